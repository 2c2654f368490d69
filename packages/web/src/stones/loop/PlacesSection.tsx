import { RangeSlider, SegmentedControl } from '@mantine/core';
import { isUnnoticed, joinOf, type LoopLength, MOST_SEARCHED } from '@muted-pond/core/loop';
import { boundaryTime } from '@muted-pond/core/timing';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { takePlace } from '../../piece/loop-edits.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import classes from './loop.module.css';
import { setLoopView } from './loop-view.js';
import { placeKey, placeWords, useCandidates } from './use-candidates.js';

const LONGEST_SECONDS = 20;
const SHORTEST_SECONDS = 0.2;

/** Where else the footage meets itself. */
export function PlacesSection() {
  const workspace = useWorkspace();
  const { seams, store } = workspace;
  const { times, frameCount } = useTake();
  const span = useStore(store, (state) => shownRecipe(state).span);
  const status = useStore(seams, (state) => state.status);
  const candidates = useCandidates();
  const within = useStore(seams, (state) => state.within);
  if (status === 'none') return null;
  const cuts = candidates.filter(({ join }) => !joinOf(join).isLed);
  const isNoneGood = cuts.every(({ score, isMeasured }) => isMeasured && !isUnnoticed(score));
  const flows = candidates.some(({ join, score }) => joinOf(join).isLed && isUnnoticed(score));
  return (
    <BankSection title="Places to join">
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Where loops are looked for"
        value={within}
        onChange={(value) => seams.getState().lookWithin(value as 'span' | 'anywhere')}
        data={[
          { value: 'anywhere', label: frameCount > MOST_SEARCHED ? 'Around the span' : 'Anywhere' },
          { value: 'span', label: 'Inside the span' },
        ]}
      />
      <LengthLimits />
      {status === 'ready' && candidates.length === 0 && (
        <p className={classes.note}>
          No loop of that length {within === 'span' ? 'lies inside the span' : 'is there'}. Widen the length
          {within === 'span' ? ', or look anywhere' : ''}.
        </p>
      )}
      {candidates.length > 0 && isNoneGood && (
        <p className={classes.note}>
          No cut in this take goes unnoticed;{' '}
          {flows ? 'where the end flows into the start, it does' : 'these come nearest'}.
        </p>
      )}
      <ul className={classes.places} aria-label="Places to join">
        {candidates.map((candidate) => {
          const { start, end, score, isMeasured } = candidate;
          const isSpan = start === span.start && end === span.end;
          return (
            <li key={placeKey(candidate)}>
              <button
                type="button"
                aria-pressed={isSpan}
                onPointerEnter={() => setLoopView({ tried: { start, end } })}
                onPointerLeave={() => setLoopView({ tried: null })}
                onFocus={() => setLoopView({ tried: { start, end } })}
                onBlur={() => setLoopView({ tried: null })}
                onClick={() => takePlace(workspace, candidate)}
              >
                <strong>
                  {start} → {end - 1}
                </strong>
                <span>{formatSeconds(boundaryTime(times, end) - boundaryTime(times, start))}</span>
                <span data-led={joinOf(candidate.join).isLed || undefined}>{placeWords(candidate)}</span>
                {isMeasured ? (
                  <strong data-good={isUnnoticed(score) || undefined}>{Math.round(score)}</strong>
                ) : (
                  <span className={classes.unmeasured} role="status" aria-label="being measured">
                    …
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ul>
    </BankSection>
  );
}

/** How short and how long a loop may be. */
function LengthLimits() {
  const { seams } = useWorkspace();
  const { times } = useTake();
  const length = useStore(seams, (state) => state.length);
  const [held, setHeld] = useState<LoopLength>(length);
  useEffect(() => setHeld(length), [length]);
  const most = Math.max(SHORTEST_SECONDS * 2, Math.min(LONGEST_SECONDS, Number(times.duration.toFixed(1))));
  const look = (min: number, max: number) =>
    seams.getState().lookFor({ min: Math.min(min, max), max: Math.max(min, max) });
  return (
    <div className={classes.length}>
      <span>Length</span>
      <RangeSlider
        size={4}
        thumbSize={16}
        label={null}
        thumbFromLabel="Shortest loop, seconds"
        thumbToLabel="Longest loop, seconds"
        min={SHORTEST_SECONDS}
        max={most}
        step={0.1}
        minRange={0.1}
        value={[Math.min(held.min, most), Math.min(held.max, most)]}
        onChange={([min, max]) => setHeld({ min, max })}
        onChangeEnd={([min, max]) => look(min, max)}
      />
      <NumberEntry
        label="Shortest loop, s"
        value={Math.min(held.min, most)}
        decimals={1}
        max={most}
        onEnter={(min) => look(min, length.max)}
      />
      <NumberEntry
        label="Longest loop, s"
        value={Math.min(held.max, most)}
        decimals={1}
        suffix=" s"
        max={most}
        onEnter={(max) => look(length.min, max)}
      />
    </div>
  );
}

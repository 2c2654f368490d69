import { Button, NumberInput } from '@mantine/core';
import { boundaryTime, nearestBoundary, spanSeconds } from '@muted-pond/core/timing';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { BankHead, BankSection, Card } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { endHere, setSpan, startHere } from '../../workspace/span-edits.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { FootageStageWithFigures, FootageStrip } from '../shared.js';
import type { Stone } from '../stone.js';
import classes from './cut.module.css';

export const cutStone: Stone = {
  id: 'cut',
  name: 'Cut',
  built: true,
  Value: CutValue,
  Stage: FootageStageWithFigures,
  Bank: CutBank,
  Lower: FootageStrip,
};

function CutValue() {
  const { store, times } = useWorkspace();
  const span = useStore(store, (state) => shownRecipe(state).span);
  return formatSeconds(spanSeconds(times, span));
}

function CutBank() {
  const workspace = useWorkspace();
  const { store, times, footage } = workspace;
  const span = useStore(store, (state) => shownRecipe(state).span);
  const { frameCount } = footage;
  const setStart = (start: number) => setSpan(workspace, { start, end: span.end }, 'start');
  const setEnd = (end: number) => setSpan(workspace, { start: span.start, end }, 'end');
  return (
    <>
      <BankHead title="Cut" about="The part of the footage that will loop." />
      <BankSection title="Span">
        <Card>
          <div className={classes.span}>
            <span />
            <span className={classes.unit}>seconds</span>
            <span className={classes.unit}>frame</span>
            <span className={classes.name}>Start</span>
            <Entry
              label="Start, seconds"
              value={boundaryTime(times, span.start)}
              decimals={2}
              max={times.duration}
              onEnter={(seconds) => setStart(nearestBoundary(times, seconds))}
            />
            <Entry label="Start, frame" value={span.start} max={frameCount - 1} onEnter={setStart} />
            <span className={classes.name}>End</span>
            <Entry
              label="End, seconds"
              value={boundaryTime(times, span.end)}
              decimals={2}
              max={times.duration}
              onEnter={(seconds) => setEnd(nearestBoundary(times, seconds))}
            />
            <Entry label="End, frame" value={span.end} max={frameCount} onEnter={setEnd} />
            <span className={classes.name}>Length</span>
            <Entry
              label="Length, seconds"
              value={spanSeconds(times, span)}
              decimals={2}
              max={times.duration}
              onEnter={(seconds) => setEnd(nearestBoundary(times, boundaryTime(times, span.start) + seconds))}
            />
            <Entry
              label="Length, frames"
              value={span.end - span.start}
              max={frameCount - span.start}
              onEnter={(frames) => setEnd(span.start + frames)}
            />
          </div>
        </Card>
        <div className={classes.buttons}>
          <Button variant="default" onClick={() => startHere(workspace)} rightSection={<Key>S</Key>}>
            Start here
          </Button>
          <Button variant="default" onClick={() => endHere(workspace)} rightSection={<Key>E</Key>}>
            End here
          </Button>
        </div>
        <p className={classes.about}>
          The end is the first frame that is left out. Drag the two stones under the strip, or scrub the strip
          and mark.
        </p>
      </BankSection>
    </>
  );
}

interface EntryProps {
  readonly label: string;
  readonly value: number;
  readonly max: number;
  readonly decimals?: number;
  readonly onEnter: (value: number) => void;
}

/** An exact number; it counts on Enter or when it is left, and Escape takes it back. */
function Entry({ label, value, max, decimals = 0, onEnter }: EntryProps) {
  const rounded = Number(value.toFixed(decimals));
  const [typed, setTyped] = useState<number | string>(rounded);
  useEffect(() => setTyped(rounded), [rounded]);
  return (
    <NumberInput
      aria-label={label}
      classNames={{ input: classes.entry }}
      variant="unstyled"
      hideControls
      min={0}
      max={max}
      step={decimals > 0 ? 0.1 : 1}
      decimalScale={decimals}
      fixedDecimalScale
      value={typed}
      onChange={setTyped}
      onBlur={() => (typeof typed === 'number' && typed !== rounded ? onEnter(typed) : setTyped(rounded))}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setTyped(rounded);
      }}
    />
  );
}

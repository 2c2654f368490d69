import { SegmentedControl, Select } from '@mantine/core';
import {
  framesMissing,
  JOINS,
  type JoinKind,
  joinOf,
  type LoopReel,
  type OwnRound,
  ownSpeed,
  ownWeave,
  PLAIN_CUT,
  seamVerdict,
} from '@muted-pond/core/loop';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import type { Ripple } from '@muted-pond/core/still';
import { type FrameTimes, reelCentiseconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { wovenRound } from '../../piece/loop-edits.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { VERDICT_WORDS } from '../../seam/seam-words.js';
import { shownRecipe } from '../../store/piece-store.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { tellProblem } from '../../ui/notify.js';
import { MovesSlider } from '../../weave/MovesSlider.js';
import { useWeaving } from '../../weave/use-weaving.js';
import { wovenWords } from '../../weave/woven-words.js';
import classes from './still.module.css';

/** A join that has a length begins with so many frames of the reel: rounds of ripples are short. */
const FIRST_LENGTH = 4;

/** Whether a ripple loops with the reel or goes round by itself, and how. */
export function RippleLoop({ ripple, change }: { ripple: Ripple; change: (part: Partial<Ripple>) => void }) {
  const { store } = useWorkspace();
  const { loop } = ripple;
  const begin = (): OwnRound => ({
    span: shownRecipe(store.getState()).span,
    join: PLAIN_CUT,
    rounds: 1,
  });
  return (
    <>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label={`How ${ripple.name} loops`}
        value={loop ? 'itself' : 'reel'}
        onChange={(value) => change({ loop: value === 'itself' ? begin() : null })}
        data={[
          { value: 'reel', label: 'Loops with the reel' },
          { value: 'itself', label: 'By itself' },
        ]}
      />
      {loop && <OwnRoundEntries ripple={ripple.id} own={loop} set={(next) => change({ loop: next })} />}
    </>
  );
}

function OwnRoundEntries({
  ripple,
  own,
  set,
}: {
  ripple: string;
  own: OwnRound;
  set: (own: OwnRound) => void;
}) {
  const { frameCount, times } = useTake();
  const { span, join, rounds } = own;
  const length = span.end - span.start;
  const setSpan = (start: number, frames: number) =>
    set({ ...own, span: { start, end: Math.min(frameCount, start + frames) } });
  const closing = joinOf(join);
  const { loop } = usePieceLoop();
  const woven = closing.woven?.(join);
  const setJoin = (kind: JoinKind) => {
    const next = joinOf({ kind });
    if (!next.woven) return set({ ...own, join: next.over(FIRST_LENGTH) });
    const made = wovenRound(span, roundFrames(loop, rounds, times), frameCount);
    if (made) set({ ...own, ...made });
    else
      tellProblem(
        'The footage is too short to weave this ripple. Make the reel shorter, or join it otherwise.',
      );
  };
  const setRounds = (next: number) => {
    const made = woven && wovenRound(span, roundFrames(loop, next, times), frameCount);
    const join = woven && made ? { ...woven, frames: made.join.frames } : own.join;
    set({ ...own, rounds: next, span: made?.span ?? span, join });
  };
  return (
    <>
      <div className={classes.ownRound}>
        from
        <NumberEntry
          label="Its loop starts at frame"
          value={span.start}
          max={frameCount - 2}
          onEnter={(start) => setSpan(start, length)}
        />
        frames
        <NumberEntry
          label="Frames of its loop"
          value={length}
          min={2}
          max={frameCount - span.start}
          onEnter={(frames) => setSpan(span.start, frames)}
        />
        rounds
        <NumberEntry
          label="Rounds in one of the reel"
          value={rounds}
          {...RECIPE_LIMITS.rounds}
          onEnter={setRounds}
        />
        {closing.length ? 'over' : ''}
        {closing.length ? (
          <NumberEntry
            label={`Frames of its ${closing.label.toLowerCase()}`}
            value={closing.framesOf(join)}
            min={closing.length.min}
            max={closing.length.max}
            onEnter={(frames) => set({ ...own, join: closing.over(frames) })}
          />
        ) : (
          <span />
        )}
      </div>
      <Select
        size="xs"
        aria-label="How its loop is joined"
        allowDeselect={false}
        value={join.kind}
        onChange={(kind) => kind && setJoin(kind as JoinKind)}
        data={JOINS.map(({ kind, label }) => ({ value: kind, label }))}
      />
      {woven && (
        <MovesSlider
          woven={woven}
          onChange={(liveliness) => set({ ...own, join: { ...woven, liveliness } })}
        />
      )}
      {woven ? <WovenFigures own={own} frames={woven.frames} /> : <OwnFigures ripple={ripple} own={own} />}
    </>
  );
}

/** Source frames in one round of a ripple that goes round so often while the reel does once. */
function roundFrames(loop: LoopReel | null, rounds: number, times: FrameTimes): number {
  const seconds = loop ? reelCentiseconds(loop.reel.slice(0, loop.round)) / 100 : 0;
  return Math.round((seconds / rounds / times.duration) * times.starts.length);
}

/** How much faster or slower than filmed a ripple is shown: “ · 8 % slowed”; nothing as filmed. */
function usePaceWords(own: OwnRound): string {
  const take = useTake();
  const { loop } = usePieceLoop();
  if (!loop) return '';
  const speed = ownSpeed(take.times, loop.reel.slice(0, loop.round), own);
  const change = Math.round(Math.abs(speed - 1) * 100);
  return change === 0 ? '' : ` · ${change} % ${speed > 1 ? 'hurried' : 'slowed'}`;
}

/** What came of weaving the ripple, or what it lacks. */
function WovenFigures({ own, frames }: { own: OwnRound; frames: number }) {
  const view = useWeaving();
  const pace = usePaceWords(own);
  const missing = framesMissing(own.span, frames);
  if (missing > 0) {
    return (
      <p className={classes.note}>
        To weave a round of {frames} frames takes {missing} more than it may loop over. Give it more frames.
      </p>
    );
  }
  const part = view?.parts?.[ownWeave(own)?.name ?? ''];
  if (view?.state === 'failed') return <p className={classes.note}>{view.problem}</p>;
  return (
    <p className={classes.note} data-testid="own-seam">
      {part ? `its seam ${Math.round(part.seam.score)}${pace} · ${wovenWords(part)}` : 'it is being woven'}
    </p>
  );
}

function OwnFigures({ ripple, own }: { ripple: string; own: OwnRound }) {
  const { seams } = useWorkspace();
  const pace = usePaceWords(own);
  const score = useStore(seams, (state) => state.measured?.own.find(({ id }) => id === ripple)?.score);
  return (
    <p className={classes.note} data-testid="own-seam">
      {score === undefined ? 'its seam is being measured' : `its seam ${Math.round(score)}`}
      {score !== undefined && `, ${VERDICT_WORDS[seamVerdict(score)]}`}
      {pace}
    </p>
  );
}

import { Button } from '@mantine/core';
import { boundaryTime, nearestBoundary, spanSeconds } from '@muted-pond/core/timing';
import { useState } from 'react';
import { useStore } from 'zustand';
import { useActivity } from '../../api/activity.js';
import { useTake } from '../../piece/piece-take.js';
import { endHere, framesFromHere, moveEnd, moveStart, startHere } from '../../piece/span-edits.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { takeCalmest, takeToRest } from '../../strip/calm-edits.js';
import { BankSection, Card } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { WhyButton } from '../../ui/WhyButton.js';
import classes from './cut.module.css';

export function SpanSection() {
  const workspace = useWorkspace();
  const { times, frameCount } = useTake();
  const span = useStore(workspace.store, (state) => shownRecipe(state).span);
  const last = frameCount - 1;
  const setStart = (start: number) => moveStart(workspace, Math.min(last, start));
  const setEnd = (end: number) => moveEnd(workspace, Math.max(1, end));
  return (
    <BankSection title="Span">
      <Card>
        <div className={classes.span}>
          <span />
          <span className={classes.unit}>time</span>
          <span className={classes.unit}>frame</span>
          <span className={classes.name}>Start</span>
          <NumberEntry
            label="Start, seconds"
            value={boundaryTime(times, span.start)}
            decimals={2}
            suffix=" s"
            max={times.starts[last]}
            onEnter={(seconds) => setStart(nearestBoundary(times, seconds))}
          />
          <NumberEntry label="Start, frame" value={span.start} max={last} onEnter={setStart} />
          <span className={classes.name}>End</span>
          <NumberEntry
            label="End, seconds"
            value={boundaryTime(times, span.end)}
            decimals={2}
            suffix=" s"
            min={boundaryTime(times, 1)}
            max={times.duration}
            onEnter={(seconds) => setEnd(nearestBoundary(times, seconds))}
          />
          <NumberEntry label="End, frame" value={span.end} min={1} max={frameCount} onEnter={setEnd} />
          <span className={classes.name}>Length</span>
          <NumberEntry
            label="Length, seconds"
            value={spanSeconds(times, span)}
            decimals={2}
            suffix=" s"
            min={spanSeconds(times, { start: span.start, end: span.start + 1 })}
            max={spanSeconds(times, { start: span.start, end: frameCount })}
            onEnter={(seconds) =>
              setEnd(
                Math.max(span.start + 1, nearestBoundary(times, boundaryTime(times, span.start) + seconds)),
              )
            }
          />
          <NumberEntry
            label="Length, frames"
            value={span.end - span.start}
            min={1}
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
      <ByActivity seconds={spanSeconds(times, span)} />
    </BankSection>
  );
}

const STILL_LOOKING = 'The footage is still being looked through; it will be ready in a moment.';

/** What needs to know what moves; and a span of so many frames from the one on the stage. */
function ByActivity({ seconds }: { seconds: number }) {
  const workspace = useWorkspace();
  const { footage, frameCount } = useTake();
  const activity = useActivity(footage?.id ?? null, frameCount).data;
  const [frames, setFrames] = useState(30);
  const { session } = workspace;
  const left = useStore(session, (state) => frameCount - Math.min(state.playhead, frameCount - 1));
  const isMoving = footage !== null && frameCount >= 3;
  const isWhole = activity !== undefined && activity.moves.length === frameCount;
  return (
    <>
      {isMoving && (
        <WhyButton
          fullWidth
          mt={8}
          color="deep.8"
          off={isWhole ? null : STILL_LOOKING}
          onClick={() => activity && takeCalmest(workspace, activity)}
        >
          {isWhole ? `Take the calmest ${formatSeconds(seconds)}` : 'Looking for what moves…'}
        </WhyButton>
      )}
      <div className={classes.fromHere}>
        <span className={classes.name}>From here</span>
        <NumberEntry label="Frames from here" value={frames} min={1} max={frameCount} onEnter={setFrames} />
        <WhyButton
          size="compact-sm"
          variant="default"
          off={frames > left ? `${left} frames are left from here. Enter fewer, or go back.` : null}
          onClick={() => framesFromHere(workspace, frames)}
        >
          frames
        </WhyButton>
        {isMoving && (
          <WhyButton
            size="compact-sm"
            variant="default"
            off={isWhole ? null : STILL_LOOKING}
            title="From the frame on the stage to the end of what moves"
            onClick={() => activity && takeToRest(workspace, activity)}
          >
            till it rests
          </WhyButton>
        )}
      </div>
    </>
  );
}

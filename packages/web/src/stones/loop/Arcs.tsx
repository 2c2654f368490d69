import { useElementSize } from '@mantine/hooks';
import { joinOf } from '@muted-pond/core/loop';
import { boundaryTime } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { takePlace } from '../../piece/loop-edits.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { SeamPlace } from '../../seam/seam-work.js';
import { shownRecipe } from '../../store/piece-store.js';
import { useStripView } from '../../strip/use-strip-view.js';
import { formatSeconds } from '../../ui/format.js';
import classes from './loop.module.css';
import { setLoopView, useLoopView } from './loop-view.js';
import { placeKey, placeWords, useCandidates } from './use-candidates.js';

const HEIGHT = 46;
const THICKEST = 4;

/**
 * Arcs over the footage join the frames that look and move alike, and dashed ones those that can flow into each
 * other: the thicker, the less the joint is seen.
 */
export function Arcs() {
  const workspace = useWorkspace();
  const { times } = useTake();
  const view = useStripView();
  const { ref, width } = useElementSize<HTMLDivElement>();
  const span = useStore(workspace.store, (state) => shownRecipe(state).span);
  const candidates = useCandidates();
  const tried = useLoopView((state) => state.tried);
  const at = (boundary: number) =>
    ((boundaryTime(times, boundary) - view.from) / (view.to - view.from)) * width;
  const isSpan = (candidate: SeamPlace) => candidate.start === span.start && candidate.end === span.end;
  // The best lie on top, the present one above all.
  const drawn = [...candidates].reverse().sort((a, b) => Number(isSpan(a)) - Number(isSpan(b)));
  return (
    <div ref={ref} className={classes.arcs}>
      <svg width={width} height={HEIGHT}>
        <title>Places to join</title>
        {drawn.map((candidate) => {
          const [left, right] = [at(candidate.start), at(candidate.end)];
          const rise = Math.min(HEIGHT - 8, 14 + (right - left) / 9);
          const isTried = tried?.start === candidate.start && tried.end === candidate.end;
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the list in the settings has a button for each
            <g
              key={placeKey(candidate)}
              className={classes.arc}
              data-current={isSpan(candidate) || undefined}
              data-tried={isTried || undefined}
              data-measured={candidate.isMeasured || undefined}
              data-led={joinOf(candidate.join).isLed || undefined}
              onPointerEnter={() => setLoopView({ tried: { start: candidate.start, end: candidate.end } })}
              onPointerLeave={() => setLoopView({ tried: null })}
              onClick={() => takePlace(workspace, candidate)}
            >
              <title>
                {`${candidate.start} → ${candidate.end} · ${formatSeconds(boundaryTime(times, candidate.end) - boundaryTime(times, candidate.start))} · ${placeWords(candidate)} · ${candidate.isMeasured ? `scores ${Math.round(candidate.score)}` : 'being measured'}`}
              </title>
              <path className={classes.arcHit} d={arcPath(left, right, rise)} />
              <path
                d={arcPath(left, right, rise)}
                strokeWidth={candidate.isMeasured ? Math.max(0.8, (candidate.score / 100) * THICKEST) : 0.8}
                opacity={candidate.isMeasured ? Math.max(0.25, candidate.score / 100) : 0.25}
              />
              <circle cx={left} cy={HEIGHT - 4} r={3} />
              <circle cx={right} cy={HEIGHT - 4} r={3} />
            </g>
          );
        })}
      </svg>
    </div>
  );
}

function arcPath(left: number, right: number, rise: number): string {
  const floor = HEIGHT - 4;
  const lean = Math.min(60, (right - left) / 3);
  return `M ${left} ${floor} C ${left + lean / 3} ${floor - rise * 1.3}, ${right - lean / 3} ${floor - rise * 1.3}, ${right} ${floor}`;
}

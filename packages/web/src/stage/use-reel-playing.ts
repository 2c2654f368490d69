import type { LoopReel } from '@muted-pond/core/loop';
import type { Reel } from '@muted-pond/core/timing';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { frameKey } from '../api/queries.js';
import type { PieceTake } from '../workspace/piece-take.js';
import { useWorkspace } from '../workspace/workspace-context.js';
import { reelSteps } from './reel-playback.js';

/** Steps fetched ahead. */
const AHEAD = 14;
/** A clock that fell this far behind does not hurry after, ms. */
const TOO_LATE_MS = 250;

const NOTHING_BESIDE: readonly Reel[] = [];

/**
 * While the session plays: the reel round and round at its own delays, or slower; or only its joint.
 * @param beside reels that are shown at the same places.
 */
export function useReelPlaying(
  take: PieceTake,
  loop: LoopReel | null,
  part: 'all' | 'seam',
  beside: readonly Reel[] = NOTHING_BESIDE,
): void {
  const { session, frames } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  const speed = useStore(session, (state) => state.speed);

  useEffect(() => {
    if (!playing || !loop) return;
    const steps = reelSteps(loop.reel.slice(0, loop.round), part);
    const keysOf = (step: number) => {
      const { place } = steps[step % steps.length];
      return [loop.reel, ...beside].flatMap((reel) => {
        const { source, blend } = reel[place];
        return [source, ...(blend ? [blend.source] : [])].map((index) => {
          const { file, frame } = take.frame(index);
          return frameKey(file.hash, frame);
        });
      });
    };
    let at = Math.max(
      0,
      steps.findIndex((step) => step.place === session.getState().place),
    );
    let began = performance.now();
    let request = 0;
    const tick = (now: number) => {
      while (now - began >= steps[at].ms / speed) {
        const next = (at + 1) % steps.length;
        const missing = keysOf(next).filter((key) => !frames.get(key));
        if (missing.length > 0) {
          // A frame that is not there yet holds the clock rather than being skipped.
          for (const key of missing) void frames.load(key).catch(() => {});
          break;
        }
        began = now - began > TOO_LATE_MS + steps[at].ms / speed ? now : began + steps[at].ms / speed;
        at = next;
      }
      frames.prefetch(
        Array.from({ length: Math.min(AHEAD, steps.length) }, (_, i) => keysOf(at + 1 + i)).flat(),
      );
      const { place, seekReel } = session.getState();
      if (place !== steps[at].place) seekReel(steps[at].place, loop.reel[steps[at].place].source);
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, speed, take, loop, part, beside, frames, session]);
}

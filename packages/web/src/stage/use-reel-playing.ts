import type { LoopReel } from '@muted-pond/core/loop';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../piece/workspace-context.js';
import type { ReelPictures } from './reel-pictures.js';
import { reelSteps } from './reel-playback.js';

/** Steps fetched ahead. */
const AHEAD = 14;
/** A clock that fell this far behind does not hurry after, ms. */
const TOO_LATE_MS = 250;

/** While the session plays: the reel round and round at its own delays, or slower; or only its joint. */
export function useReelPlaying(
  loop: LoopReel | null,
  part: 'all' | 'seam',
  pictures: ReelPictures | null,
): void {
  const { session } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  const speed = useStore(session, (state) => state.speed);

  useEffect(() => {
    if (!playing || !loop || !pictures) return;
    const steps = reelSteps(loop.reel.slice(0, loop.round), part);
    const placeOf = (step: number) => steps[step % steps.length].place;
    let at = Math.max(
      0,
      steps.findIndex((step) => step.place === session.getState().place),
    );
    let began = performance.now();
    let request = 0;
    const tick = (now: number) => {
      while (now - began >= steps[at].ms / speed) {
        const next = (at + 1) % steps.length;
        if (!pictures.isThere(placeOf(next))) {
          // A picture that is not there yet holds the clock rather than being skipped.
          pictures.ask(placeOf(next));
          break;
        }
        began = now - began > TOO_LATE_MS + steps[at].ms / speed ? now : began + steps[at].ms / speed;
        at = next;
      }
      pictures.prefetch(Array.from({ length: Math.min(AHEAD, steps.length) }, (_, i) => placeOf(at + 1 + i)));
      const { place, seekReel } = session.getState();
      if (place !== steps[at].place) seekReel(steps[at].place, loop.reel[steps[at].place].source);
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, speed, loop, part, pictures, session]);
}

import { boundaryTime, nearestFrame, type Pick, spanSeconds } from '../../timing/index.js';
import type { Join, JoinContext } from './join.js';

export interface Crossfade {
  readonly kind: 'crossfade';
  /** Frames of the reel that are mixed, from its last one backwards. */
  readonly frames: number;
}

/**
 * The last k frames melt into the k frames before the start, so that the last of them runs into the first by itself. Of L frames
 * from i, output t ≥ L − k mixes frame i + t with frame i + t − L, the latter with the share (n + 1)/(k + 1), n = t − (L − k).
 * No frame is doubled and none is dimmed. A reversed reel melts into the frames after its end.
 */
export const crossfade: Join<Crossfade> = {
  longest(reel, context) {
    let frames = 0;
    while (frames < reel.length - 1 && counterpart(reel[reel.length - 1 - frames], context) !== null)
      frames++;
    return frames;
  },
  apply(reel, settings, context) {
    const frames = Math.min(settings.frames, crossfade.longest(reel, context));
    const from = reel.length - frames;
    return reel.map((pick, t) => {
      const source = t < from ? null : counterpart(pick, context);
      if (source === null) return pick;
      return { ...pick, blend: { source, share: (t - from + 1) / (frames + 1) } };
    });
  },
};

/** The frame a whole span earlier, later in a reversed reel; null where the take has none. */
function counterpart({ source }: Pick, { times, span, reverse }: JoinContext): number | null {
  const length = spanSeconds(times, span);
  const at = boundaryTime(times, source) + (reverse ? length : -length);
  // A rounding of time stamps does not make a frame unreachable.
  const slack = times.duration / times.starts.length / 4;
  if (at < -slack || at >= times.duration - slack) return null;
  return nearestFrame(times, Math.max(0, at));
}

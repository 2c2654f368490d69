import { blendFrames, type PixelFrame } from '../../pixels/index.js';
import type { Pick, Reel } from '../../timing/index.js';
import type { RenderPlan } from '../plan-render.js';
import type { ReelStep } from './step.js';

/** What moves: the whole picture, or one reel for each layer over the plate. */
export function movingReels({ reel, still }: RenderPlan): readonly Reel[] {
  return still ? still.layers.map((layer) => layer.reel) : [reel];
}

/** The frames of the take that a reel shows, mixed in or alone, each once, ascending. */
export function sourcesOf(reel: Reel): number[] {
  const sources = new Set<number>();
  for (const { source, blend } of reel) {
    sources.add(source);
    if (blend) sources.add(blend.source);
  }
  return [...sources].sort((a, b) => a - b);
}

/** A frame of the take, or two of them mixed. */
export function mixPick({ source, blend }: Pick, take: (frame: number) => PixelFrame): PixelFrame {
  return blend ? blendFrames(take(source), take(blend.source), blend.share) : take(source);
}

/** From frames of the take to what each layer shows at a place of the reel. */
export const join: ReelStep = {
  name: 'join',
  dependsOn: (plan) => movingReels(plan).map((reel) => reel.map(({ source, blend }) => [source, blend])),
  prepare({ plan, take }) {
    const reels = movingReels(plan);
    // Repeats and copies share what was mixed once.
    const mixed = new Map<string, PixelFrame>();
    const pictureOf = (pick: Pick): PixelFrame => {
      if (!pick.blend) return take(pick.source);
      const key = `${pick.source} ${pick.blend.source} ${pick.blend.share}`;
      const frame = mixed.get(key) ?? mixPick(pick, take);
      mixed.set(key, frame);
      return frame;
    };
    return (_, place) => reels.map((reel) => pictureOf(reel[place]));
  },
};

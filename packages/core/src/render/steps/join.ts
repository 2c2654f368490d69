import { mixFrames, type PixelFrame } from '../../pixels/index.js';
import { framesNeeded, type Reel, type ReelFrame } from '../../timing/index.js';
import { STILL, weaveFrames, weaveShares } from '../../weave/index.js';
import type { RenderPlan, Weaves } from '../plan-render.js';
import type { MadePictures } from './made-pictures.js';
import type { ReelStep } from './step.js';

/** What moves: the whole picture, or one reel for each layer over the plate. */
export function movingReels({ reel, still }: RenderPlan): readonly Reel[] {
  return still ? still.layers.map((layer) => layer.reel) : [reel];
}

/** The frames of the take that a reel shows, mixed in or alone, each once, ascending. */
export function sourcesOf(reel: Reel, weaves: Weaves, isHeld: boolean): number[] {
  const sources = new Set<number>();
  for (const pick of reel) {
    const weave = pick.woven === undefined ? undefined : weaves[pick.woven];
    const shown = framesNeeded(pick);
    for (const frame of weave ? shown.flatMap((one) => weaveFrames(weave, one)) : shown) sources.add(frame);
    if (weave && !isHeld) sources.add(weave.plate);
  }
  return [...sources].sort((a, b) => a - b);
}

/** Where the pictures of a reel come from. */
export interface MixSource {
  readonly weaves: Weaves;
  /** A frame of the take, composed. */
  take(frame: number): PixelFrame;
  /** What still parts show; the frame that their weave names where nothing is held. */
  readonly plate: PixelFrame | null;
  readonly made: MadePictures;
}

/** What a pick shows: a moment of the take, some of them mixed evenly, or by the map of a weave. */
export function mixReelFrame(pick: ReelFrame, from: MixSource): PixelFrame {
  const { source, blend, woven } = pick;
  const { weaves, take, plate } = from;
  const weave = woven === undefined ? undefined : weaves[woven];
  if (!weave) {
    if (blend?.led) return from.made.led(blend.led);
    const own = from.made.moment(pick);
    return blend ? mixFrames([own, from.made.moment(blend)], [1 - blend.share, blend.share]) : own;
  }
  const shares = new Map<number, Float32Array>();
  const lay = (place: number, part: number) => {
    for (const { frame, shares: table } of weaveShares(weave, place)) {
      const sum = shares.get(frame) ?? new Float32Array(table.length);
      table.forEach((share, cell) => {
        sum[cell] += share * part;
      });
      shares.set(frame, sum);
    }
  };
  lay(source, blend ? 1 - blend.share : 1);
  if (blend) lay(blend.source, blend.share);
  const frames = [...shares.keys()].map((frame) =>
    frame === STILL ? (plate ?? take(weave.plate)) : take(frame),
  );
  const { cols, rows, across, down } = weave;
  return mixFrames(frames, { cols, rows, across, down, shares: [...shares.values()] });
}

/** From frames of the take to what each layer shows at a place of the reel. */
export const join: ReelStep = {
  name: 'join',
  dependsOn: (plan) => [
    movingReels(plan).map((reel) => reel.map(({ delayCs, ...shown }) => shown)),
    Object.entries(plan.weaves).map(([name, { id }]) => [name, id]),
  ],
  prepare({ plan, take, plate, made }) {
    const reels = movingReels(plan);
    const source = { weaves: plan.weaves, take, plate: plate?.picture ?? null, made };
    // Repeats and copies share what was mixed once.
    const mixed = new Map<string, PixelFrame>();
    const pictureOf = (pick: ReelFrame): PixelFrame => {
      const { delayCs, ...shown } = pick;
      if (!pick.blend && !pick.toward && pick.woven === undefined) return take(pick.source);
      const key = JSON.stringify(shown);
      const frame = mixed.get(key) ?? mixReelFrame(pick, source);
      mixed.set(key, frame);
      return frame;
    };
    return (_, place) => reels.map((reel) => pictureOf(reel[place]));
  },
};

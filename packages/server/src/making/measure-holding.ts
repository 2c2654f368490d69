import type { FramePlace, HoldingFigures } from '@muted-pond/core/api';
import { createFrame, sizeWithin } from '@muted-pond/core/pixels';
import { takeOf } from '@muted-pond/core/recipe';
import { planRender, sourcesOf } from '@muted-pond/core/render';
import { createEvenLight, resizeMask } from '@muted-pond/core/still';
import { decodeFrames } from '../media/index.js';
import type { MakingTask } from './make-gif.js';
import { sourceFile } from './making-file.js';
import { openMovingMasks } from './read-layers.js';
import { createSteadier } from './steady-frames.js';

/** Longer side of the frames that are measured, px. */
const MEASURED_SIDE = 640;

/**
 * Steadies and lights the frames of the reel as making the file does, in small, and tells by how much, and where each frame lies.
 * @throws RangeError where nothing is held, or the source does not move.
 */
export async function measureHolding(
  { files, layers, recipe }: MakingTask,
  onProgress: (done: number) => void,
): Promise<HoldingFigures> {
  const take = takeOf(recipe, files.map(sourceFile));
  const { still } = planRender(recipe, take);
  const [file] = files;
  if (!still || file.facts.kind === 'picture') {
    throw new RangeError('Nothing is held still here. Hold a frame of footage first.');
  }
  const shown = sourcesOf(still.layers.flatMap(({ reel }) => reel));
  const plateFrame = still.plate.frame;
  const size = sizeWithin(file.facts, MEASURED_SIDE);
  const { all } = await openMovingMasks(still, layers, take.size);
  const moving = resizeMask(all, size);
  const decoded = async function* (frames: readonly number[]) {
    for await (const { frame, data } of decodeFrames({ ...file, frames, size, format: 'rgba' })) {
      yield { frame, picture: createFrame(size.width, size.height, data) };
    }
  };
  const places: FramePlace[] = [];
  let light: { before: number; after: number } | null = null;
  for await (const { picture: plate } of decoded([plateFrame])) {
    const steadier = still.steady ? createSteadier(plate, all, file.facts) : null;
    const even = still.evenLight ? createEvenLight(plate, moving) : null;
    const rest = shown.filter((frame) => frame !== plateFrame);
    let done = 0;
    if (rest.length > 0) {
      for await (const { frame, picture } of decoded(rest)) {
        const steady = steadier?.steady(picture) ?? picture;
        if (steadier) places.push({ frame, similarity: steadier.lastPlace() });
        if (even) {
          light ??= { before: 0, after: 0 };
          light.before = Math.max(light.before, even.step(steady));
          light.after = Math.max(light.after, even.step(even.apply(steady)));
        }
        onProgress(++done / rest.length);
      }
    }
    return { steady: steadier?.figures() ?? null, light, places };
  }
  throw new RangeError(`Frame ${plateFrame} of “${file.name}” cannot be read. Choose another plate.`);
}

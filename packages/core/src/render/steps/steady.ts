import { alignSize, type FramePair, findCameraMask, lumaOf } from '../../motion/index.js';
import { alignToPlate, type PlateAlignment } from './align-to-plate.js';
import { type DecodedContext, type DecodedStep, masksOf } from './step.js';

/** Frames are aligned to the plate, so that held and moving parts meet though the camera shook. */
export const steady: DecodedStep = {
  name: 'steady',
  dependsOn: ({ still, steadyTo }) =>
    still?.steady ? [still.plate.frame, masksOf(still)] : steadyTo && [steadyTo],
  async prepare(context) {
    const { still, steadyTo } = context.plan;
    const plateFrame = still?.steady ? still.plate.frame : (steadyTo?.frame ?? null);
    // A picture by itself has nothing to be aligned with.
    if (plateFrame === null || context.file.times.starts.length < 2) return null;
    const alignment = await alignmentOf(context, plateFrame);
    if (!alignment) return null;
    return {
      apply: (picture, frame) => (frame === plateFrame ? picture : alignment.align(picture)),
      figures: () => ({ steady: alignment.figures() }),
    };
  },
};

async function alignmentOf(
  { plan: { still, steadyTo }, moving, file, readPlate, readSome }: DecodedContext,
  plateFrame: number,
): Promise<PlateAlignment | null> {
  if (still) return moving && alignToPlate(await readPlate(plateFrame), { moving }, file.size);
  const plate = await readPlate(plateFrame);
  const size = alignSize(plate);
  const wanted = steadyTo?.samples ?? [];
  const lumas = (await readSome(wanted)).map((sample) => lumaOf(sample.rgba, sample, size));
  if (lumas.length < wanted.length) return null;
  const pairs = lumas.flatMap((luma, i): FramePair[] => (i % 2 === 0 ? [[luma, lumas[i + 1]]] : []));
  const ignored = findCameraMask(lumaOf(plate.rgba, plate, size), pairs);
  return ignored && alignToPlate(plate, { ignored }, file.size);
}

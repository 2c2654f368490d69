import { alignToPlate } from './align-to-plate.js';
import { type DecodedStep, masksOf } from './step.js';

/** Frames are aligned to the plate, so that held and moving parts meet though the camera shook. */
export const steady: DecodedStep = {
  name: 'steady',
  dependsOn: ({ still }) => (still?.steady ? [still.plate.frame, masksOf(still)] : null),
  async prepare({ plan: { still }, file, moving, readPlate }) {
    // A picture by itself has nothing to be aligned with.
    if (!still?.steady || !moving || file.times.starts.length < 2) return null;
    const plateFrame = still.plate.frame;
    const alignment = alignToPlate(await readPlate(plateFrame), moving, file.size);
    return {
      apply: (picture, frame) => (frame === plateFrame ? picture : alignment.align(picture)),
      figures: () => ({ steady: alignment.figures() }),
    };
  },
};

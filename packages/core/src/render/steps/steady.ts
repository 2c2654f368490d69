import { alignToPlate } from './align-to-plate.js';
import { type DecodedStep, masksOf } from './step.js';

/** Frames are aligned to the plate, so that held and moving parts meet though the camera shook. */
export const steady: DecodedStep = {
  name: 'steady',
  dependsOn: ({ still, steadyTo }) =>
    still?.steady ? [still.plate.frame, masksOf(still)] : steadyTo === null ? null : [steadyTo],
  async prepare({ plan: { still, steadyTo }, file, moving, readPlate }) {
    const plateFrame = still?.steady ? still.plate.frame : steadyTo;
    // A picture by itself has nothing to be aligned with.
    if (plateFrame === null || file.times.starts.length < 2) return null;
    const alignment = alignToPlate(await readPlate(plateFrame), still ? moving : null, file.size);
    return {
      apply: (picture, frame) => (frame === plateFrame ? picture : alignment.align(picture)),
      figures: () => ({ steady: alignment.figures() }),
    };
  },
};

import { createEvenLight, type EvenLight, joinMasks } from '../../still/index.js';
import { type ComposedPlate, type ComposedStep, masksOf } from './step.js';

/** Brightness as the plate's along the edges of all that moves; as one frame's where nothing is held. */
export const evenLight: ComposedStep = {
  name: 'even-light',
  dependsOn: ({ still, steadyTo }) =>
    still?.evenLight ? [still.plate, masksOf(still)] : steadyTo === null ? null : [steadyTo],
  prepare({ still }, plate, anchor) {
    const even = anchor ? createEvenLight(anchor, null) : still?.evenLight ? overPlate(plate) : null;
    if (!even) return null;
    let light = { before: 0, after: 0 };
    return {
      apply(picture) {
        const lit = even.apply(picture);
        light = {
          before: Math.max(light.before, even.step(picture)),
          after: Math.max(light.after, even.step(lit)),
        };
        return lit;
      },
      figures: () => ({ light }),
    };
  },
};

function overPlate(plate: ComposedPlate | null): EvenLight | null {
  if (!plate || plate.masks.length === 0) return null;
  return createEvenLight(
    plate.picture,
    plate.masks.reduce((all, mask) => joinMasks(all, mask)),
  );
}

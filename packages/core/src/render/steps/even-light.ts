import { createEvenLight, joinMasks } from '../../still/index.js';
import { type ComposedStep, masksOf } from './step.js';

/** Brightness as the plate's along the edges of all that moves. */
export const evenLight: ComposedStep = {
  name: 'even-light',
  dependsOn: ({ still }) => (still?.evenLight ? [still.plate, masksOf(still)] : null),
  prepare({ still }, plate) {
    if (!still?.evenLight || !plate || plate.masks.length === 0) return null;
    const even = createEvenLight(
      plate.picture,
      plate.masks.reduce((all, mask) => joinMasks(all, mask)),
    );
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

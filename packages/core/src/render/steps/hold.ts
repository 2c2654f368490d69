import { layRipples } from '../../still/index.js';
import { masksOf, type ReelStep } from './step.js';

/** The plate where nothing moves, and the layers over it, each through its mask. */
export const hold: ReelStep = {
  name: 'hold',
  dependsOn: ({ still }) => still && [still.plate, masksOf(still)],
  prepare({ plate }) {
    if (!plate) return null;
    const { picture, masks } = plate;
    return (pictures) => [masks.reduce((held, mask, i) => layRipples(held, pictures[i], mask), picture)];
  },
};

import { visitStarts } from '../../settle/index.js';
import type { Dither } from './dither.js';

/** The nearest colour, and nothing else. */
export const none: Dither = ({ rgba }, durations, plan, { nearestAt }) => {
  visitStarts(durations, (p) => {
    plan[p] = nearestAt(p).find(rgba[p * 4], rgba[p * 4 + 1], rgba[p * 4 + 2]);
  });
};

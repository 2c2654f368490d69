import { visitStarts } from '../../settle/index.js';
import type { Dither } from './dither.js';

/** The nearest colour, and nothing else. */
export const none: Dither = ({ rgba }, durations, plan, { nearest }) => {
  visitStarts(durations, (p) => {
    plan[p] = nearest.find(rgba[p * 4], rgba[p * 4 + 1], rgba[p * 4 + 2]);
  });
};

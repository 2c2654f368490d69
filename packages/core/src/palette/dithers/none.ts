import { visitStarts } from '../../settle/index.js';
import type { Dither } from './dither.js';

/** The nearest colour, and nothing else. */
export const none: Dither = ({ rgba }, durations, plan, { byChroma, chroma }) => {
  visitStarts(durations, (p) => {
    plan[p] = byChroma[chroma[p]].find(rgba[p * 4], rgba[p * 4 + 1], rgba[p * 4 + 2]);
  });
};

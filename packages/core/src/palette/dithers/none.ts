import type { Dither } from './dither.js';

/** The nearest colour, and nothing else. */
export const none: Dither = (frame, durations, plan, { nearest }) => {
  const { rgba } = frame;
  for (let p = 0, at = 0; p < durations.length; p++, at += 4) {
    if (durations[p] > 0) plan[p] = nearest.find(rgba[at], rgba[at + 1], rgba[at + 2]);
  }
};

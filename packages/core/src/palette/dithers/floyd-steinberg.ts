import { aim, type Dither } from './dither.js';

/**
 * Error diffusion, serpentine (Floyd & Steinberg 1976, "An adaptive algorithm for spatial greyscale").
 * Error goes only to pixels that change in the same frame.
 */
export const floydSteinberg: Dither = (frame, durations, plan, { palette, nearestAt, strength }) => {
  const { width, height, rgba } = frame;
  const reds = Float32Array.from(palette, (colour) => colour[0]);
  const greens = Float32Array.from(palette, (colour) => colour[1]);
  const blues = Float32Array.from(palette, (colour) => colour[2]);
  // Error carried into this row and the next, 3 a pixel, with a pixel to spare at both ends.
  let here = new Float32Array((width + 2) * 3);
  let below = new Float32Array((width + 2) * 3);
  for (let y = 0; y < height; y++) {
    const step = y % 2 === 0 ? 1 : -1;
    let x = step === 1 ? 0 : width - 1;
    for (let left = width; left > 0; left--, x += step) {
      const p = y * width + x;
      if (durations[p] === 0) continue;
      const e = (x + 1) * 3;
      const r = rgba[p * 4] + here[e];
      const g = rgba[p * 4 + 1] + here[e + 1];
      const b = rgba[p * 4 + 2] + here[e + 2];
      const index = aim(rgba, p, r, g, b, nearestAt(p));
      plan[p] = index;
      // Of what can be aimed at: where no colour is dark or bright enough, error would grow from pixel to pixel,
      // and come out in the next thing that is otherwise.
      spread(here, below, e, step * 3, (rgba[p * 4] - reds[index]) * strength, 0);
      spread(here, below, e, step * 3, (rgba[p * 4 + 1] - greens[index]) * strength, 1);
      spread(here, below, e, step * 3, (rgba[p * 4 + 2] - blues[index]) * strength, 2);
    }
    [here, below] = [below, here];
    below.fill(0);
  }
};

function spread(
  here: Float32Array,
  below: Float32Array,
  at: number,
  step: number,
  error: number,
  channel: number,
): void {
  const c = at + channel;
  here[c + step] += error * (7 / 16);
  below[c - step] += error * (3 / 16);
  below[c] += error * (5 / 16);
  below[c + step] += error * (1 / 16);
}

import { createFrame, cubicKernel, type PixelFrame } from '../../pixels/index.js';
import type { FlowField } from './flow-field.js';

/**
 * Two frames led to a moment between them and mixed: (1 − t) a(x − t v) + t b(x + (1 − t) v), by cubic convolution,
 * the border repeated; weighted by alpha, so that what is clear brings no colour in.
 * @param flow as it lies at the moment, of the frames' size.
 * @param moment t, 0–1.
 */
export function leadFrames(a: PixelFrame, b: PixelFrame, flow: FlowField, moment: number): PixelFrame {
  const { width, height } = a;
  if (b.width !== width || b.height !== height || flow.width !== width || flow.height !== height) {
    throw new RangeError(`The frames and the flow between them must be of one size, ${width} × ${height}.`);
  }
  const out = createFrame(width, height);
  const [first, second] = [cubicSampler(a), cubicSampler(b)];
  const [sums, more] = [new Float64Array(4), new Float64Array(4)];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      first(x - moment * flow.u[p], y - moment * flow.v[p], sums);
      second(x + (1 - moment) * flow.u[p], y + (1 - moment) * flow.v[p], more);
      const alpha = sums[3] + moment * (more[3] - sums[3]);
      const i = 4 * p;
      for (let c = 0; c < 3; c++) {
        const value = sums[c] + moment * (more[c] - sums[c]);
        out.rgba[i + c] = alpha > 0 ? toByte(value / alpha) : 0;
      }
      out.rgba[i + 3] = toByte(255 * alpha);
    }
  }
  return out;
}

function toByte(value: number): number {
  return Math.max(0, Math.min(255, Math.round(value)));
}

/** Writes red, green and blue times alpha, and alpha as 0–1, at a place between pixels. */
function cubicSampler({ width, height, rgba }: PixelFrame) {
  const [across, down] = [new Float64Array(4), new Float64Array(4)];
  const columns = new Int32Array(4);
  return (x: number, y: number, out: Float64Array) => {
    const atX = Math.max(0, Math.min(width - 1, x));
    const atY = Math.max(0, Math.min(height - 1, y));
    const [left, top] = [Math.floor(atX), Math.floor(atY)];
    writeWeights(atX - left, across);
    writeWeights(atY - top, down);
    for (let i = 0; i < 4; i++) columns[i] = 4 * Math.max(0, Math.min(width - 1, left + i - 1));
    let [red, green, blue, alpha] = [0, 0, 0, 0];
    for (let j = 0; j < 4; j++) {
      const row = 4 * width * Math.max(0, Math.min(height - 1, top + j - 1));
      for (let i = 0; i < 4; i++) {
        const at = row + columns[i];
        const weight = across[i] * down[j] * (rgba[at + 3] / 255);
        red += weight * rgba[at];
        green += weight * rgba[at + 1];
        blue += weight * rgba[at + 2];
        alpha += weight;
      }
    }
    // Near edges of what is clear the sum goes beyond 0 or 1; its colour stays what it is.
    const within = Math.max(0, Math.min(1, alpha));
    const scale = alpha > 0 ? within / alpha : 0;
    out[0] = scale * red;
    out[1] = scale * green;
    out[2] = scale * blue;
    out[3] = within;
  };
}

/** Weights of the four samples around a place between the second and the third. */
function writeWeights(t: number, out: Float64Array): void {
  for (let i = 0; i < 4; i++) out[i] = cubicKernel(i - 1 - t);
}

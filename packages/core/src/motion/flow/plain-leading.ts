import { createFrame, isOpaque, type PixelFrame } from '../../pixels/index.js';
import type { FlowField } from './flow-field.js';
import type { Leading } from './leading.js';

const f = Math.fround;

/** Leading without a kernel. Each operation is rounded to single precision, as packages/core/kernel/lead.ts does it. */
export const plainLeading: Leading = {
  carry(flow, moment, steps) {
    const { width, height, u, v } = flow;
    const [across, down] = [samplerOf(u, width, height), samplerOf(v, width, height)];
    const [outU, outV] = [new Float32Array(u.length), new Float32Array(v.length)];
    const t = f(moment);
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        let [atU, atV] = [u[p], v[p]];
        for (let step = 0; step < steps; step++) {
          const [fromX, fromY] = [f(x - f(t * atU)), f(y - f(t * atV))];
          atU = across(fromX, fromY);
          atV = down(fromX, fromY);
        }
        outU[p] = atU;
        outV[p] = atV;
      }
    }
    return { width, height, u: outU, v: outV };
  },
  apart(a, b, flow, moment) {
    const { width, height } = flow;
    const [one, other] = [samplerOf(a.values, width, height), samplerOf(b.values, width, height)];
    const out = new Float32Array(width * height);
    forLed(flow, moment, (p, fromX, fromY, toX, toY) => {
      out[p] = Math.abs(f(one(fromX, fromY) - other(toX, toY)));
    });
    return out;
  },
  lead(a, b, flow, moment, shares) {
    const { width, height } = flow;
    const out = createFrame(width, height);
    const opaque = isOpaque(a.rgba) && isOpaque(b.rgba);
    const [first, second] = [cubicSampler(a, opaque), cubicSampler(b, opaque)];
    const [sum, other] = [new Float32Array(4), new Float32Array(4)];
    forLed(flow, moment, (p, fromX, fromY, toX, toY) => {
      const share = shares[p];
      if (share < 1) first(fromX, fromY, sum);
      if (share > 0) {
        second(toX, toY, other);
        for (let c = 0; c < 4; c++) {
          sum[c] = share < 1 ? f(sum[c] + f(share * f(other[c] - sum[c]))) : other[c];
        }
      }
      const alpha = sum[3];
      const scale = opaque ? 1 : alpha > 0 ? f(255 / alpha) : 0;
      for (let c = 0; c < 3; c++) out.rgba[4 * p + c] = toByte(f(sum[c] * scale));
      out.rgba[4 * p + 3] = toByte(alpha);
    });
    return out;
  },
};

/** Each pixel with the places in both pictures that lead to it. */
function forLed(
  { width, height, u, v }: FlowField,
  moment: number,
  visit: (p: number, fromX: number, fromY: number, toX: number, toY: number) => void,
): void {
  const [gone, left] = [f(moment), f(1 - moment)];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const [across, down] = [u[p], v[p]];
      visit(
        p,
        f(x - f(gone * across)),
        f(y - f(gone * down)),
        f(x + f(left * across)),
        f(y + f(left * down)),
      );
    }
  }
}

function within(place: number, count: number): number {
  return Math.max(0, Math.min(count - 1, place));
}

function toByte(value: number): number {
  return Math.max(0, Math.min(255, Math.floor(f(value + 0.5))));
}

/** A plane between its pixels, bilinear. */
function samplerOf(values: Float32Array, width: number, height: number) {
  const mixed = (one: number, other: number, share: number) => f(f(one * f(1 - share)) + f(other * share));
  return (x: number, y: number): number => {
    const [atX, atY] = [within(x, width), within(y, height)];
    const [left, top] = [Math.trunc(atX), Math.trunc(atY)];
    const [over, down] = [f(atX - left), f(atY - top)];
    const q = top * width + left;
    const right = left < width - 1 ? 1 : 0;
    const below = top < height - 1 ? width : 0;
    const upper = mixed(values[q], values[q + right], over);
    return mixed(upper, mixed(values[q + below], values[q + below + right], over), down);
  };
}

/** Weights of the four samples around a place between the second and the third (Catmull and Rom 1974). */
function weights(t: number): number[] {
  return [
    f(f(f(f(f(-0.5 * t) + 1) * t) - 0.5) * t),
    f(f(f(f(f(1.5 * t) - 2.5) * t) * t) + 1),
    f(f(f(f(f(-1.5 * t) + 2) * t) + 0.5) * t),
    f(f(f(f(0.5 * t) - 0.5) * t) * t),
  ];
}

/** Writes red, green and blue times alpha (0–1), and 255 times alpha, at a place between pixels. */
function cubicSampler({ width, height, rgba }: PixelFrame, opaque: boolean) {
  const line = new Float32Array(4);
  return (x: number, y: number, out: Float32Array): void => {
    const [atX, atY] = [within(x, width), within(y, height)];
    const [left, top] = [Math.trunc(atX), Math.trunc(atY)];
    const [across, down] = [weights(f(atX - left)), weights(f(atY - top))];
    out.fill(0);
    for (let j = 0; j < 4; j++) {
      const row = width * within(top + j - 1, height);
      for (let i = 0; i < 4; i++) {
        const at = 4 * (row + within(left + i - 1, width));
        const alpha = f(rgba[at + 3] / 255);
        for (let c = 0; c < 4; c++) {
          const weighted = f(across[i] * f((c < 3 ? rgba[at + c] : 255) * alpha));
          line[c] = i === 0 ? weighted : f(line[c] + weighted);
        }
      }
      for (let c = 0; c < 4; c++) out[c] = f(out[c] + f(down[j] * line[c]));
    }
    if (opaque) return;
    // Near edges of what is clear the sum goes beyond what there can be; its colour stays what it is.
    const alpha = out[3];
    const scale = alpha > 0 ? f(Math.max(0, Math.min(255, alpha)) / alpha) : 0;
    for (let c = 0; c < 4; c++) out[c] = f(out[c] * scale);
  };
}

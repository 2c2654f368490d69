import { growKernel, type KernelMemory, type Size, startKernel } from '../../pixels/index.js';
import { FLOW_KERNEL } from './flow-kernel.js';

/**
 * The planes of a relaxation, in their order in memory: the field at its start and now, derivatives of the two
 * pictures (across, down and from the first picture to the second), the weights between neighbours, and the
 * coefficients of the two equations of each pixel.
 */
const PLANES = [
  ...(['startU', 'startV', 'u', 'v'] as const),
  ...(['across', 'down', 'acrossAcross', 'acrossDown', 'downDown'] as const),
  ...(['brightness', 'acrossChange', 'downChange'] as const),
  ...(['bondRight', 'bondDown', 'a12', 'c1', 'c2', 'w1', 'w2'] as const),
] as const;
type PlaneName = (typeof PLANES)[number];

/** The two pictures and what is made of them on the way lie where coefficients come later. */
const OVERLAID = {
  ...{ first: 'a12', second: 'c1', middle: 'c2', difference: 'w1', slow: 'w2' },
} as const satisfies Record<string, PlaneName>;

export interface DataWeights {
  readonly brightness: number;
  readonly gradients: number;
}

/** Keeps robust weights finite where nothing differs. */
const EPSILON = 0.001;
/** Keeps normalised gradients finite where there are none, levels² a pixel². */
const FLAT = 0.1;
/** Successive over-relaxation. */
const RELAXATION = 1.6;

/**
 * Two linear equations a pixel, which neighbours share by the smoothness of the field, in single precision.
 * Neighbours are relaxed in two colours of a checkerboard, so that no pixel waits for the one before it.
 */
export interface Relaxation {
  /** Begins with a field. */
  begin(u: Float32Array, v: Float32Array): void;
  /**
   * Takes two pictures that lie nearly on each other, and their derivatives.
   * @returns the second less the first.
   */
  differentiate(first: Float32Array, second: Float32Array): Float32Array<ArrayBuffer>;
  /** Takes a share of what changes slowly out of that difference. */
  takeSlowOut(slow: Float32Array, share: number): void;
  /** Weights of smoothness: less where the field breaks. */
  weighSmoothness(smoothness: number): void;
  /** Robust weights of brightness and gradients, for the field as it is now. */
  weighData(weights: DataWeights): void;
  /** One sweep over all pixels. */
  sweep(): void;
  take(name: 'u' | 'v'): Float32Array;
}

interface RelaxationKernel extends KernelMemory {
  placePlanes(base: number, width: number, height: number, pitch: number): number;
  planeAt(which: number): number;
  differentiate(): void;
  takeSlowOut(share: number): void;
  weighSmoothness(smoothness: number, epsilon: number): void;
  weighData(brightness: number, gradients: number, flat: number, epsilon: number, relaxation: number): void;
  relax(colour: number, relaxation: number): void;
}

/** @param plain whether no kernel is used; the results are the same. */
export function openRelaxation(size: Size, plain = false): Relaxation {
  const kernel = plain ? null : startKernel<RelaxationKernel>(FLOW_KERNEL);
  return kernel ? kernelRelaxation(size, kernel) : plainRelaxation(size);
}

/** Numbers of a row: whole vectors, and one that is never written. */
const pitchOf = (width: number) => ((width + 3) & ~3) + 4;

/** Copies between rows that stand close and rows of planes. */
function rowsOf({ width, height }: Size, pitch: number) {
  return {
    put(plane: Float32Array, values: Float32Array): void {
      for (let y = 0; y < height; y++) plane.set(values.subarray(y * width, (y + 1) * width), y * pitch);
    },
    take(plane: Float32Array): Float32Array<ArrayBuffer> {
      const values = new Float32Array(width * height);
      for (let y = 0; y < height; y++) values.set(plane.subarray(y * pitch, y * pitch + width), y * width);
      return values;
    },
  };
}

function kernelRelaxation(size: Size, kernel: RelaxationKernel): Relaxation {
  const pitch = pitchOf(size.width);
  const end = kernel.placePlanes(kernel.memory.buffer.byteLength, size.width, size.height, pitch * 4);
  growKernel(kernel, end);
  const rows = rowsOf(size, pitch);
  const planeOf = (name: PlaneName) =>
    new Float32Array(kernel.memory.buffer, kernel.planeAt(PLANES.indexOf(name)), pitch * size.height);
  const put = (name: PlaneName, values: Float32Array) => rows.put(planeOf(name), values);
  return {
    begin(u, v) {
      for (const name of ['startU', 'u'] as const) put(name, u);
      for (const name of ['startV', 'v'] as const) put(name, v);
    },
    differentiate(first, second) {
      put(OVERLAID.first, first);
      put(OVERLAID.second, second);
      kernel.differentiate();
      return rows.take(planeOf(OVERLAID.difference));
    },
    takeSlowOut(slow, share) {
      put(OVERLAID.slow, slow);
      kernel.takeSlowOut(share);
    },
    take: (name) => rows.take(planeOf(name)),
    weighSmoothness: (smoothness) => kernel.weighSmoothness(smoothness, EPSILON),
    weighData: ({ brightness, gradients }) =>
      kernel.weighData(brightness, gradients, FLAT, EPSILON, RELAXATION),
    sweep() {
      kernel.relax(0, RELAXATION);
      kernel.relax(1, RELAXATION);
    },
  };
}

const f = Math.fround;

/** Reference implementation, in single precision as the kernel. */
function plainRelaxation(size: Size): Relaxation {
  const { width, height } = size;
  const pitch = pitchOf(width);
  const rows = rowsOf(size, pitch);
  // A row above and one below stay empty.
  const planes = Object.fromEntries(
    PLANES.map((name) => [name, new Float32Array((height + 2) * pitch)]),
  ) as Record<PlaneName, Float32Array>;
  const { startU, startV, u, v, bondRight, bondDown, a12, c1, c2, w1, w2 } = planes;
  const [epsilon, flat, over] = [EPSILON, FLAT, RELAXATION].map(f);
  const bondsAt = (p: number) => f(f(bondRight[p - 1] + bondRight[p]) + f(bondDown[p - pitch] + bondDown[p]));
  /** What the neighbours of a pixel pull it to. */
  const pullAt = (field: Float32Array, p: number) =>
    f(
      f(f(bondRight[p - 1] * field[p - 1]) + f(bondRight[p] * field[p + 1])) +
        f(f(bondDown[p - pitch] * field[p - pitch]) + f(bondDown[p] * field[p + pitch])),
    );

  function weighDataAt(p: number, { brightness, gradients }: DataWeights): void {
    const [du, dv] = [f(u[p] - startU[p]), f(v[p] - startV[p])];
    const [gx, gy, gt] = [planes.across[p], planes.down[p], planes.brightness[p]];
    const normal = f(1 / f(f(f(gx * gx) + f(gy * gy)) + flat));
    const misfit = f(f(gt + f(gx * du)) + f(gy * dv));
    const wb = f(f(f(brightness) * normal) / f(Math.sqrt(f(f(normal * f(misfit * misfit)) + epsilon))));
    const [xx, xy, yy] = [planes.acrossAcross[p], planes.acrossDown[p], planes.downDown[p]];
    const [xt, yt] = [planes.acrossChange[p], planes.downChange[p]];
    const normalX = f(1 / f(f(f(xx * xx) + f(xy * xy)) + flat));
    const normalY = f(1 / f(f(f(xy * xy) + f(yy * yy)) + flat));
    const misfitX = f(f(xt + f(xx * du)) + f(xy * dv));
    const misfitY = f(f(yt + f(xy * du)) + f(yy * dv));
    const ofX = f(normalX * f(misfitX * misfitX));
    const ofY = f(normalY * f(misfitY * misfitY));
    const wg = f(f(gradients) / f(Math.sqrt(f(f(ofX + ofY) + epsilon))));
    const [bx, by] = [f(wb * gx), f(wb * gy)];
    const [wx, wy] = [f(wg * normalX), f(wg * normalY)];
    const [xxw, xyw, yxw, yyw] = [f(wx * xx), f(wx * xy), f(wy * xy), f(wy * yy)];
    const a11 = f(f(f(bx * gx) + f(xxw * xx)) + f(yxw * xy));
    const a22 = f(f(f(by * gy) + f(xyw * xy)) + f(yyw * yy));
    const b1 = f(f(f(bx * gt) + f(xxw * xt)) + f(yxw * yt));
    const b2 = f(f(f(by * gt) + f(xyw * xt)) + f(yyw * yt));
    const bonds = bondsAt(p);
    a12[p] = f(f(f(bx * gy) + f(xxw * xy)) + f(yxw * yy));
    c1[p] = f(b1 + f(bonds * startU[p]));
    c2[p] = f(b2 + f(bonds * startV[p]));
    w1[p] = f(over / f(a11 + bonds));
    w2[p] = f(over / f(a22 + bonds));
  }

  function relaxAt(p: number): void {
    const [du, dv] = [f(u[p] - startU[p]), f(v[p] - startV[p])];
    const forU = f(f(pullAt(u, p) - c1[p]) - f(a12[p] * dv));
    const nextU = f(du + f(f(w1[p] * forU) - f(over * du)));
    const forV = f(f(pullAt(v, p) - c2[p]) - f(a12[p] * nextU));
    const nextV = f(dv + f(f(w2[p] * forV) - f(over * dv)));
    u[p] = f(startU[p] + nextU);
    v[p] = f(startV[p] + nextV);
  }

  /** Pixels as they lie in planes, every `step`-th column from one that depends on the row. */
  function eachPixel(firstOf: (y: number) => number, step: number, visit: (p: number) => void): void {
    for (let y = 0; y < height; y++) {
      for (let x = firstOf(y); x < width; x += step) visit((y + 1) * pitch + x);
    }
  }

  function gradients(of: PlaneName, across: PlaneName, down: PlaneName): void {
    const from = planes[of];
    for (let y = 0; y < height; y++) {
      const above = y > 0 ? pitch : 0;
      const below = y < height - 1 ? pitch : 0;
      for (let x = 0, p = (y + 1) * pitch; x < width; x++, p++) {
        const [right, left] = [x < width - 1 ? p + 1 : p, x > 0 ? p - 1 : p];
        planes[across][p] = f(0.5 * f(from[right] - from[left]));
        planes[down][p] = f(0.5 * f(from[p + below] - from[p - above]));
      }
    }
  }

  const put = (name: PlaneName, values: Float32Array) => rows.put(planes[name].subarray(pitch), values);
  return {
    begin(fieldU, fieldV) {
      for (const name of ['startU', 'u'] as const) put(name, fieldU);
      for (const name of ['startV', 'v'] as const) put(name, fieldV);
    },
    differentiate(first, second) {
      const difference = second.map((value, p) => value - first[p]);
      put(OVERLAID.difference, difference);
      put(
        OVERLAID.middle,
        second.map((value, p) => 0.5 * f(first[p] + value)),
      );
      gradients(OVERLAID.middle, 'across', 'down');
      gradients('across', 'acrossAcross', 'acrossDown');
      // What this gives across is the same as what was just found down, but for rounding.
      gradients('down', 'brightness', 'downDown');
      gradients(OVERLAID.difference, 'acrossChange', 'downChange');
      return difference;
    },
    takeSlowOut(slow, share) {
      const difference = rows.take(planes[OVERLAID.difference].subarray(pitch));
      put(
        'brightness',
        difference.map((value, p) => value - f(f(share) * slow[p])),
      );
    },
    take: (name) => rows.take(planes[name].subarray(pitch)),
    weighSmoothness(smoothness) {
      for (let y = 0; y < height; y++) {
        for (let x = 0, p = (y + 1) * pitch; x < width; x++, p++) {
          const right = x < width - 1 ? p + 1 : p;
          const below = y < height - 1 ? p + pitch : p;
          const [uAcross, uDown] = [f(u[right] - u[p]), f(u[below] - u[p])];
          const [vAcross, vDown] = [f(v[right] - v[p]), f(v[below] - v[p])];
          const ofU = f(f(uAcross * uAcross) + f(uDown * uDown));
          const bend = f(ofU + f(f(vAcross * vAcross) + f(vDown * vDown)));
          const bond = f(f(smoothness) / f(Math.sqrt(f(bend + epsilon))));
          bondRight[p] = x < width - 1 ? bond : 0;
          bondDown[p] = y < height - 1 ? bond : 0;
        }
      }
    },
    weighData(weights) {
      eachPixel(
        () => 0,
        1,
        (p) => weighDataAt(p, weights),
      );
    },
    sweep() {
      for (const colour of [0, 1]) eachPixel((y) => (y + colour) & 1, 2, relaxAt);
    },
  };
}

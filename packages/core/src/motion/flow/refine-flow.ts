import type { LumaPicture } from '../luma-picture.js';
import { type FlowField, warpByFlow } from './flow-field.js';
import { boxMean, type Gradients, gradientsOf } from './planes.js';

export interface Refinement {
  /** Weight of smoothness. */
  readonly smoothness: number;
  /** Weight of equal brightness. */
  readonly brightness: number;
  /** Weight of equal gradients. */
  readonly gradients: number;
  /** How often the robust weights are worked out anew. */
  readonly rounds: number;
  /** Sweeps of over-relaxation in each round. */
  readonly sweeps: number;
}

/** Keeps robust weights finite where nothing differs. */
const EPSILON = 0.001;
/** Keeps normalised gradients finite where there are none, levels² a pixel². */
const FLAT = 0.1;
/** Successive over-relaxation. */
const RELAXATION = 1.6;
/** Differences that change slowly over this radius are light, px; this share of them is no movement. */
const LIGHT = { radius: 7, share: 0.7 };
/** Smaller pictures are left as they are. */
const LEAST_SIDE = 3;

/**
 * Moves a field to where brightness and gradients agree best and the field stays smooth, in place. Robust
 * penalties of all three; fixed points around successive over-relaxation.
 * Source: Brox, Bruhn, Papenberg and Weickert, ECCV 2004; the normalised data terms of Zimmer, Bruhn and
 * Weickert, IJCV 2011.
 * @param a and b of one size, which is the field's.
 */
export function refineFlow(a: LumaPicture, b: LumaPicture, flow: FlowField, how: Refinement): void {
  const { width, height } = a;
  if (width < LEAST_SIDE || height < LEAST_SIDE) return;
  const data = differencesOf(a, warpByFlow(b, flow));
  const step: FlowField = {
    width,
    height,
    u: new Float32Array(flow.u.length),
    v: new Float32Array(flow.u.length),
  };
  const system = createSystem(flow.u.length);
  for (let round = 0; round < how.rounds; round++) {
    weighSmoothness(flow, step, how.smoothness, system.smooth);
    weighData(data, step, how, system);
    for (let sweep = 0; sweep < how.sweeps; sweep++) relax(flow, step, system);
  }
  for (let p = 0; p < step.u.length; p++) {
    flow.u[p] += step.u[p];
    flow.v[p] += step.v[p];
  }
}

/** Derivatives of two pictures that lie nearly on each other. */
interface Differences {
  readonly first: Gradients;
  readonly acrossAcross: Float32Array;
  readonly acrossDown: Float32Array;
  readonly downDown: Float32Array;
  /** From the first to the second picture: brightness without slow changes of light, and both gradients. */
  readonly brightness: Float32Array;
  readonly ofGradients: Gradients;
}

function differencesOf(a: LumaPicture, warped: LumaPicture): Differences {
  const { width, height } = a;
  const middle = new Float32Array(a.values.length);
  const difference = new Float32Array(a.values.length);
  for (let p = 0; p < middle.length; p++) {
    middle[p] = 0.5 * (a.values[p] + warped.values[p]);
    difference[p] = warped.values[p] - a.values[p];
  }
  const first = gradientsOf({ width, height, values: middle });
  const ofAcross = gradientsOf({ width, height, values: first.across });
  const slow = boxMean({ width, height, values: difference }, LIGHT.radius);
  return {
    first,
    ...{ acrossAcross: ofAcross.across, acrossDown: ofAcross.down },
    downDown: gradientsOf({ width, height, values: first.down }).down,
    brightness: difference.map((value, p) => value - LIGHT.share * slow[p]),
    ofGradients: gradientsOf({ width, height, values: difference }),
  };
}

/** A linear system of two unknowns a pixel, which neighbours share by `smooth`. */
interface System {
  readonly smooth: Float32Array;
  readonly a11: Float32Array;
  readonly a12: Float32Array;
  readonly a22: Float32Array;
  readonly b1: Float32Array;
  readonly b2: Float32Array;
}

function createSystem(pixels: number): System {
  const plane = () => new Float32Array(pixels);
  return { smooth: plane(), a11: plane(), a12: plane(), a22: plane(), b1: plane(), b2: plane() };
}

/** Less smoothness where the field breaks. */
function weighSmoothness(flow: FlowField, step: FlowField, weight: number, smooth: Float32Array): void {
  const { width, height, u, v } = flow;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const right = x < width - 1 ? p + 1 : p;
      const below = y < height - 1 ? p + width : p;
      const uHere = u[p] + step.u[p];
      const vHere = v[p] + step.v[p];
      const uAcross = u[right] + step.u[right] - uHere;
      const uDown = u[below] + step.u[below] - uHere;
      const vAcross = v[right] + step.v[right] - vHere;
      const vDown = v[below] + step.v[below] - vHere;
      const bend = uAcross * uAcross + uDown * uDown + vAcross * vAcross + vDown * vDown;
      smooth[p] = weight / Math.sqrt(bend + EPSILON);
    }
  }
}

/** The normal equations of the data terms, with robust weights for the step as it is now. */
function weighData(data: Differences, step: FlowField, how: Refinement, system: System): void {
  const { first, acrossAcross, acrossDown, downDown, brightness, ofGradients } = data;
  const { a11, a12, a22, b1, b2 } = system;
  for (let p = 0; p < a11.length; p++) {
    const [du, dv] = [step.u[p], step.v[p]];
    const [gx, gy, gt] = [first.across[p], first.down[p], brightness[p]];
    const normal = 1 / (gx * gx + gy * gy + FLAT);
    const misfit = gt + gx * du + gy * dv;
    const wb = (how.brightness * normal) / Math.sqrt(normal * misfit * misfit + EPSILON);
    const [xx, xy, yy] = [acrossAcross[p], acrossDown[p], downDown[p]];
    const [xt, yt] = [ofGradients.across[p], ofGradients.down[p]];
    const normalX = 1 / (xx * xx + xy * xy + FLAT);
    const normalY = 1 / (xy * xy + yy * yy + FLAT);
    const misfitX = xt + xx * du + xy * dv;
    const misfitY = yt + xy * du + yy * dv;
    const wg = how.gradients / Math.sqrt(normalX * misfitX * misfitX + normalY * misfitY * misfitY + EPSILON);
    const [wx, wy] = [wg * normalX, wg * normalY];
    a11[p] = wb * gx * gx + wx * xx * xx + wy * xy * xy;
    a12[p] = wb * gx * gy + wx * xx * xy + wy * xy * yy;
    a22[p] = wb * gy * gy + wx * xy * xy + wy * yy * yy;
    b1[p] = -(wb * gx * gt + wx * xx * xt + wy * xy * yt);
    b2[p] = -(wb * gy * gt + wx * xy * xt + wy * yy * yt);
  }
}

/** One sweep over all pixels, in place. */
function relax({ width, height, u, v }: FlowField, step: FlowField, system: System): void {
  const { smooth, a11, a12, a22, b1, b2 } = system;
  const { u: du, v: dv } = step;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      let [weights, toU, toV] = [0, 0, 0];
      // A bond between two pixels has the weight of the left or upper one.
      if (x > 0) {
        const weight = smooth[p - 1];
        weights += weight;
        toU += weight * (u[p - 1] + du[p - 1] - u[p]);
        toV += weight * (v[p - 1] + dv[p - 1] - v[p]);
      }
      if (x < width - 1) {
        const weight = smooth[p];
        weights += weight;
        toU += weight * (u[p + 1] + du[p + 1] - u[p]);
        toV += weight * (v[p + 1] + dv[p + 1] - v[p]);
      }
      if (y > 0) {
        const weight = smooth[p - width];
        weights += weight;
        toU += weight * (u[p - width] + du[p - width] - u[p]);
        toV += weight * (v[p - width] + dv[p - width] - v[p]);
      }
      if (y < height - 1) {
        const weight = smooth[p];
        weights += weight;
        toU += weight * (u[p + width] + du[p + width] - u[p]);
        toV += weight * (v[p + width] + dv[p + width] - v[p]);
      }
      du[p] += RELAXATION * ((b1[p] + toU - a12[p] * dv[p]) / (a11[p] + weights) - du[p]);
      dv[p] += RELAXATION * ((b2[p] + toV - a12[p] * du[p]) / (a22[p] + weights) - dv[p]);
    }
  }
}

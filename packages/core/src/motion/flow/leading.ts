import {
  createFrame,
  growKernel,
  isOpaque,
  type KernelMemory,
  type PixelFrame,
  startKernel,
} from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import type { FlowField } from './flow-field.js';
import { LEAD_KERNEL } from './lead-kernel.js';
import { plainLeading } from './plain-leading.js';

/** Leads pictures along a flow between two of them, in single precision. */
export interface Leading {
  /**
   * What of a flow passes through each place when everything is so far on its way: v(x) = flow(x − t v(x)), by steps
   * towards the fixed point.
   */
  carry(flow: FlowField, moment: number, steps: number): FlowField;
  /** |a(x − t v) − b(x + (1 − t) v)| at each place, bilinear, the border repeated. */
  apart(a: LumaPicture, b: LumaPicture, flow: FlowField, moment: number): Float32Array<ArrayBuffer>;
  /**
   * (1 − s) a(x − t v) + s b(x + (1 − t) v), by cubic convolution, the border repeated; weighted by alpha, so that what
   * is clear brings no colour in.
   * @param shares s of each pixel, 0–1.
   */
  lead(a: PixelFrame, b: PixelFrame, flow: FlowField, moment: number, shares: Float32Array): PixelFrame;
}

interface LeadKernel extends KernelMemory {
  carry(
    ...at: [
      u: number,
      v: number,
      outU: number,
      outV: number,
      width: number,
      height: number,
      t: number,
      n: number,
    ]
  ): void;
  apart(
    ...at: [
      a: number,
      b: number,
      u: number,
      v: number,
      out: number,
      width: number,
      height: number,
      t: number,
      l: number,
    ]
  ): void;
  lead(
    ...at: [
      ...[a: number, b: number, u: number, v: number, shares: number, out: number],
      ...[width: number, height: number, t: number, l: number, opaque: boolean],
    ]
  ): void;
}

/** @param plain whether no kernel is used; the results are the same. */
export function openLeading(plain = false): Leading {
  const kernel = plain ? null : startKernel<LeadKernel>(LEAD_KERNEL);
  return kernel ? kernelLeading(kernel) : plainLeading;
}

let shared: Leading | null = null;

/** The one that everybody in this thread uses; it grows to the largest picture it has led. */
export function sharedLeading(): Leading {
  shared ??= openLeading();
  return shared;
}

/** Two frames led to a moment between them and mixed, as Leading.lead does it. */
export function leadFrames(...how: Parameters<Leading['lead']>): PixelFrame {
  return sharedLeading().lead(...how);
}

function kernelLeading(kernel: LeadKernel): Leading {
  /** Lays planes of four bytes a pixel out one after the other. @returns where each begins, and room for so many more. */
  function place(inputs: readonly (Float32Array | Uint8Array)[], outputs: number): number[] {
    const bytes = (inputs[0].byteLength + 15) & ~15;
    growKernel(kernel, (inputs.length + outputs) * bytes + FREE);
    for (const [i, input] of inputs.entries()) {
      const from = new Uint8Array(input.buffer, input.byteOffset, input.byteLength);
      new Uint8Array(kernel.memory.buffer).set(from, FREE + i * bytes);
    }
    return Array.from({ length: inputs.length + outputs }, (_, i) => FREE + i * bytes);
  }
  const taken = (at: number, count: number) => new Float32Array(kernel.memory.buffer, at, count).slice();
  return {
    carry(flow, moment, steps) {
      const { width, height } = flow;
      const [u, v, outU, outV] = place([flow.u, flow.v], 2);
      kernel.carry(u, v, outU, outV, width, height, moment, steps);
      return { width, height, u: taken(outU, width * height), v: taken(outV, width * height) };
    },
    apart(first, second, flow, moment) {
      const { width, height } = flow;
      const [a, b, u, v, out] = place([first.values, second.values, flow.u, flow.v], 1);
      kernel.apart(a, b, u, v, out, width, height, moment, 1 - moment);
      return taken(out, width * height);
    },
    lead(first, second, flow, moment, ofSecond) {
      const { width, height } = flow;
      const [a, b, u, v, shares, out] = place([first.rgba, second.rgba, flow.u, flow.v, ofSecond], 1);
      kernel.lead(
        a,
        b,
        u,
        v,
        shares,
        out,
        width,
        height,
        moment,
        1 - moment,
        isOpaque(first.rgba) && isOpaque(second.rgba),
      );
      const led = createFrame(width, height);
      led.rgba.set(new Uint8Array(kernel.memory.buffer, out, led.rgba.length));
      return led;
    },
  };
}

/** The first bytes of the memory are left alone. */
const FREE = 64;

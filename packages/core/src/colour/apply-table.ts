import { createFrame, growKernel, type KernelMemory, type PixelFrame, startKernel } from '../pixels/index.js';
import { COLOUR_KERNEL } from './colour-kernel.js';
import { type ColourTable, FRACTION, levelPlaces } from './colour-table.js';
import type { ColourFunction } from './grade.js';

/** Every pixel through a table; alpha stays as it is. */
export type ColourPixels = (picture: PixelFrame) => PixelFrame;

/** What packages/core/kernel/colour.ts exports. */
interface Kernel extends KernelMemory {
  place(nodes: number, pixels: number): number;
  axesAt(): number;
  nodesAt(): number;
  pixelsAt(): number;
  colour(pixels: number): void;
}

/** With SIMD where it is there; the same bytes without. */
export function createColourPixels(table: ColourTable): ColourPixels {
  return createKernelColour(table) ?? createPlainColour(table);
}

/** One kernel for all tables: its memory is made once, and holds the table that was used last. */
interface Loaded {
  readonly kernel: Kernel;
  table: ColourTable | null;
  nodes: number;
  pixels: number;
}
let loaded: Loaded | null = null;

/** @returns null where the kernel cannot run. */
export function createKernelColour(table: ColourTable): ColourPixels | null {
  if (!loaded) {
    const kernel = startKernel<Kernel>(COLOUR_KERNEL);
    if (!kernel) return null;
    loaded = { kernel, table: null, nodes: 0, pixels: 0 };
  }
  const now = loaded;
  const axes = axesOf(table);
  const nodes = finely(table);
  return ({ width, height, rgba }) => {
    load(now, table, axes, nodes, width * height);
    const { kernel } = now;
    const pixels = new Uint8Array(kernel.memory.buffer, kernel.pixelsAt(), rgba.length);
    pixels.set(rgba);
    kernel.colour(width * height);
    return createFrame(width, height, pixels.slice());
  };
}

/** Makes room, and puts the table where the kernel looks for it. */
function load(now: Loaded, table: ColourTable, axes: Uint32Array, nodes: Int16Array, pixels: number): void {
  const { kernel } = now;
  const count = nodes.length / 4;
  if (count > now.nodes || pixels > now.pixels) {
    now.nodes = Math.max(now.nodes, count);
    now.pixels = Math.max(now.pixels, pixels);
    growKernel(kernel, kernel.place(now.nodes, now.pixels));
    now.table = null;
  }
  if (now.table === table) return;
  const { buffer } = kernel.memory;
  new Uint32Array(buffer, kernel.axesAt(), axes.length).set(axes);
  new Int16Array(buffer, kernel.nodesAt(), nodes.length).set(nodes);
  now.table = table;
}

/** Nodes are held in parts of a level, as far as 16 bits reach: beyond black and white by many levels. */
const FINENESS = 32;

function finely({ nodes }: ColourTable): Int16Array {
  return Int16Array.from(nodes, (value) => Math.max(-32768, Math.min(32767, Math.round(value * FINENESS))));
}

/** Four numbers of 16 bits. */
const NODE_BYTES = 8;

/**
 * For each level of red, green and blue: the offset of its node in bytes, and a key whose upper half is how far it
 * is on the way to the next node and whose lower half is how far off that node lies.
 */
function axesOf({ size, knots }: ColourTable): Uint32Array {
  const { cell, fraction } = levelPlaces(knots);
  const axes = new Uint32Array(6 * 256);
  for (const [axis, nodes] of [1, size, size * size].entries()) {
    const stride = nodes * NODE_BYTES;
    for (let level = 0; level < 256; level++) {
      axes[(axis * 256 + level) * 2] = cell[level] * stride;
      axes[(axis * 256 + level) * 2 + 1] = (fraction[level] << 16) | stride;
    }
  }
  return axes;
}

/**
 * The plain reference: tetrahedral interpolation, from the nearest corner along the axes in falling order of
 * their fractions. Source: J. Kasson et al., "Performing color space conversions with three-dimensional linear
 * interpolation", J. Electronic Imaging 4(3), 1995. In whole numbers, as the kernel does.
 */
export function createPlainColour(table: ColourTable): ColourPixels {
  const axes = axesOf(table);
  const nodes = finely(table);
  return ({ width, height, rgba }) => {
    const out = new Uint8Array(rgba.length);
    for (let i = 0; i < rgba.length; i += 4) {
      const [red, green, blue] = [rgba[i] * 2, 512 + rgba[i + 1] * 2, 1024 + rgba[i + 2] * 2];
      const keys = [axes[red + 1], axes[green + 1], axes[blue + 1]].sort((one, other) => other - one);
      let corner = axes[red] + axes[green] + axes[blue];
      const corners = [corner, ...keys.map((key) => (corner += key & 0xffff))];
      const [first, second, third] = keys.map((key) => key >>> 16);
      const weights = [FRACTION - first, first - second, second - third, third];
      for (let c = 0; c < 3; c++) {
        let sum = FRACTION * FINENESS * 0.5;
        for (let n = 0; n < 4; n++) sum += nodes[corners[n] / 2 + c] * weights[n];
        out[i + c] = Math.max(0, Math.min(255, Math.floor(sum / (FRACTION * FINENESS))));
      }
      out[i + 3] = rgba[i + 3];
    }
    return createFrame(width, height, out);
  };
}

/** Each pixel through a function itself: for few pixels, and to compare tables with. */
export function colourExactly(
  { width, height, rgba }: PixelFrame,
  change: ColourFunction | null,
): PixelFrame {
  const out = new Uint8Array(rgba);
  if (!change) return createFrame(width, height, out);
  const colour = new Float64Array(3);
  for (let i = 0; i < out.length; i += 4) {
    for (let c = 0; c < 3; c++) colour[c] = rgba[i + c] / 255;
    change(colour);
    for (let c = 0; c < 3; c++) out[i + c] = Math.max(0, Math.min(255, Math.round(colour[c] * 255)));
  }
  return createFrame(width, height, out);
}

import { BLUE_SCALE, LUMA, RED_SCALE } from '../pixels/index.js';
import { visitStarts } from '../settle/index.js';
import type { PlannedFrame } from './alpha.js';
import { rowOrder } from './interlace.js';
import type { LzwEncoder } from './lzw-encoder.js';
import { NEAR_COUNT } from './near-colours.js';
import { type FramePalette, NOTHING } from './reel-colours.js';
import type { Rect } from './writer.js';

/**
 * One frame on its way out. `shown` is what the viewer has on screen, as ids, and follows what is written.
 */
export interface FrameDraft extends PlannedFrame {
  /** The settled frame's own colours, RGBA. */
  readonly rgba: Uint8Array;
  readonly masking: Float32Array;
  readonly shown: Uint32Array;
  /** 1 where the pixel must be drawn; else what is shown stays. */
  readonly drawn: Uint8Array;
  readonly width: number;
  /** The colours of all ids; see ReelColours. */
  readonly values: Float64Array;
  readonly palette: FramePalette;
}

/**
 * How much further from its settled colour a pixel may be for what is saved: less the longer it stays, more
 * where texture hides it.
 */
function allowance(levels: number, duration: number, masking: number): number {
  return (levels * levels * masking * masking) / duration;
}

/** A pixel's colour as toOpponent gives it, without anything new. */
function opponentOf(rgba: Uint8Array, pixel: number, out: Float64Array): void {
  const at = pixel * 4;
  const luma = LUMA[0] * rgba[at] + LUMA[1] * rgba[at + 1] + LUMA[2] * rgba[at + 2];
  out[0] = luma;
  out[1] = (rgba[at + 2] - luma) * BLUE_SCALE;
  out[2] = (rgba[at] - luma) * RED_SCALE;
}

/** The squared distance of a colour of the reel, by id. */
function distanceTo(colour: Float64Array, values: Float64Array, id: number): number {
  const y = colour[0] - values[id * 3];
  const u = colour[1] - values[id * 3 + 1];
  const v = colour[2] - values[id * 3 + 2];
  return y * y + u * u + v * v;
}

/**
 * Marks the pixels that must be drawn: where a segment begins and another colour is shown, unless drawing it
 * brings so little that it does not pay.
 * @param redrawPrice what drawing a pixel costs, in levels of change for one frame; 0 draws every change.
 * @param goesOn whether most segments begin only because a part of the reel does: then how long they last
 * does not count, lest the whole picture be drawn again for fractions of a level.
 */
export function markDrawn(draft: FrameDraft, redrawPrice: number, goesOn = false): void {
  const { plan, durations, masking, shown, drawn, rgba, values, palette } = draft;
  const { ids } = palette;
  const settled = new Float64Array(3);
  drawn.fill(0);
  visitStarts(durations, (p) => {
    const id = ids[plan[p]];
    const now = shown[p];
    if (now === id) return;
    if (redrawPrice > 0 && now !== NOTHING) {
      opponentOf(rgba, p, settled);
      const gain = distanceTo(settled, values, now) - distanceTo(settled, values, id);
      if (gain <= allowance(redrawPrice, goesOn ? 1 : durations[p], masking[p])) return;
    }
    drawn[p] = 1;
  });
}

/**
 * Greedy over the strings already known: a pixel that need not change may be written as transparent or as
 * what it shows; one that must is tried exactly, then left as it is if that is near enough, then as that of
 * the nearest colours that errs least.
 * @param squeeze levels; 0 writes the plan exactly.
 * @param isInterlaced whether the rows are written in the order of `rowOrder`.
 */
export function drawFrame(
  lzw: LzwEncoder,
  draft: FrameDraft,
  rect: Rect,
  squeeze: number,
  isInterlaced: boolean,
): void {
  const { plan, durations, masking, shown, drawn, rgba, width, values, palette } = draft;
  const { ids } = palette;
  const entries = palette.entries();
  const transparent = palette.palette.length;
  const near = squeeze > 0 ? palette.near() : null;
  const settled = new Float64Array(3);
  for (const row of rowOrder(rect.height, isInterlaced)) {
    const y = rect.top + row;
    const end = y * width + rect.left + rect.width;
    for (let p = y * width + rect.left; p < end; p++) {
      const keeps = drawn[p] === 0;
      const index = keeps ? transparent : plan[p];
      let known = lzw.prefix < 0 ? index : lzw.child(index);
      if (known >= 0) {
        lzw.prefix = known;
        if (!keeps) shown[p] = ids[index];
        continue;
      }
      if (keeps) {
        const entry = entries[shown[p]];
        known = entry >= 0 ? lzw.child(entry) : -1;
        if (known >= 0) lzw.prefix = known;
        else lzw.breakBefore(transparent);
        continue;
      }
      if (near) {
        opponentOf(rgba, p, settled);
        let allowed = distanceTo(settled, values, ids[index]) + allowance(squeeze, durations[p], masking[p]);
        if (shown[p] !== NOTHING && distanceTo(settled, values, shown[p]) <= allowed) {
          known = lzw.child(transparent);
          if (known >= 0) {
            lzw.prefix = known;
            continue;
          }
        }
        let standIn = -1;
        for (let k = index * NEAR_COUNT; k < (index + 1) * NEAR_COUNT && near[k] >= 0; k++) {
          const distance = distanceTo(settled, values, ids[near[k]]);
          if (distance > allowed) continue;
          const child = lzw.child(near[k]);
          if (child < 0) continue;
          known = child;
          standIn = near[k];
          allowed = distance;
        }
        if (standIn >= 0) {
          lzw.prefix = known;
          shown[p] = ids[standIn];
          continue;
        }
      }
      lzw.breakBefore(index);
      shown[p] = ids[index];
    }
  }
}

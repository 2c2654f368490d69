import type { PlannedReel } from '../palette/index.js';
import { LONGEST_DELAY_CS } from '../timing/index.js';
import { boundsOf } from './bounds.js';
import { ByteSink } from './byte-sink.js';
import { LzwEncoder, minimumCodeBits } from './lzw-encoder.js';
import { findNearColours, NEAR_COUNT, type NearColours } from './near-colours.js';
import { createSeeThrough } from './see-through.js';
import { assertDelay, type Rect, writeImageHeader, writeScreen, writeTrailer } from './writer.js';

export interface GifOptions {
  /** One per frame, centiseconds. */
  readonly delaysCs: readonly number[];
  /** How often the reel is shown: 0 without end, 1 once, n times. */
  readonly plays: number;
  /** How far similar pixel runs may be merged, in levels; 0 writes the plan exactly. */
  readonly squeeze: number;
  /** Called after each frame with the share done, 0–1. */
  readonly onProgress?: (done: number) => void;
}

export interface EncodedGif {
  readonly bytes: Uint8Array;
  /** Bytes of each frame of the reel, headers included; 0 where it was merged into the one before. */
  readonly frameBytes: readonly number[];
}

/**
 * Writes a planned reel as GIF89a: a whole first frame, then only what changes, cropped to the smallest
 * rectangle, transparent where nothing changes. Where pixels go out of sight, the image before them is disposed of to
 * transparency. A frame that changes nothing lengthens the one before.
 * @throws RangeError for what the format cannot hold, before the first byte.
 */
export function encodeGif(reel: PlannedReel, options: GifOptions): EncodedGif {
  const { width, height, palette, plans, masking } = reel;
  const { delaysCs, plays, squeeze } = options;
  for (const wanted of delaysCs) assertDelay(wanted);
  if (delaysCs.length !== plans.length) {
    throw new RangeError(`The reel has ${plans.length} frames but ${delaysCs.length} delays.`);
  }
  const hasTransparency = plans.length > 1 || reel.cleared !== null;
  const entries = palette.length + (hasTransparency ? 1 : 0);
  const sink = new ByteSink();
  writeScreen(sink, { width, height, palette, entries, plays });
  const transparent = palette.length;
  const codeBits = minimumCodeBits(entries);
  const near = findNearColours(palette);
  const seeThrough = reel.cleared && createSeeThrough(reel, transparent);
  const shown = seeThrough ? seeThrough.shown : plans[0].slice();
  const whole: Rect = { left: 0, top: 0, width, height };

  const frameBytes: number[] = [];
  // Where the last image's delay stands, and what it is: a frame that changes nothing is added to it.
  let delayAt = 0;
  let delay = 0;
  for (let f = 0; f < plans.length; f++) {
    const from = sink.length;
    const { plan, durations } = seeThrough
      ? seeThrough.due(f)
      : { plan: plans[f], durations: reel.durations[f] };
    const isWhole = f === 0 && !seeThrough;
    const changed = isWhole ? whole : changedRect(shown, plan, durations, width, height);
    const clears = seeThrough?.clearedAfter(f) ?? null;
    const rect = unite(changed, clears);
    if (!rect && f > 0 && delay + delaysCs[f] <= LONGEST_DELAY_CS) {
      delay += delaysCs[f];
      sink.patchU16(delayAt, delay);
    } else {
      delay = delaysCs[f];
      delayAt = writeImageHeader(sink, {
        rect: rect ?? POINT,
        delayCs: delay,
        disposal: clears ? 2 : 1,
        transparentIndex: isWhole ? null : transparent,
      });
      const lzw = new LzwEncoder(sink, codeBits);
      const image = { plan, durations, masking, shown, width, rect: rect ?? POINT };
      if (isWhole) encodeFirst(lzw, image, near, squeeze);
      else encodeDelta(lzw, image, near, squeeze, transparent);
      lzw.finish();
      if (clears) seeThrough?.dispose(rect ?? POINT);
    }
    frameBytes.push(sink.length - from);
    options.onProgress?.((f + 1) / plans.length);
  }
  writeTrailer(sink);
  return { bytes: sink.take().slice(), frameBytes };
}

/** The smallest rectangle that holds both. */
function unite(a: Rect | null, b: Rect | null): Rect | null {
  if (!a || !b) return a ?? b;
  const left = Math.min(a.left, b.left);
  const top = Math.min(a.top, b.top);
  return {
    left,
    top,
    width: Math.max(a.left + a.width, b.left + b.width) - left,
    height: Math.max(a.top + a.height, b.top + b.height) - top,
  };
}

/** What is drawn of a frame that changes nothing but must be written. */
const POINT: Rect = { left: 0, top: 0, width: 1, height: 1 };

/** One image on its way out. `shown` is what the viewer has on screen, and follows what is written. */
interface Image {
  readonly plan: Uint8Array;
  readonly durations: Uint16Array;
  readonly masking: Float32Array;
  readonly shown: Uint8Array;
  readonly width: number;
  readonly rect: Rect;
}

/** The smallest rectangle of pixels whose index changes; null where none does. */
function changedRect(
  shown: Uint8Array,
  plan: Uint8Array,
  durations: Uint16Array,
  width: number,
  height: number,
): Rect | null {
  return boundsOf(width, height, (p) => durations[p] !== 0 && plan[p] !== shown[p]);
}

/** The colour distance that a pixel may be off: less the longer it stays, more where texture hides it. */
function allowance(squeeze: number, duration: number, masking: number): number {
  return (squeeze * squeeze * masking * masking) / duration;
}

function encodeFirst(lzw: LzwEncoder, image: Image, near: NearColours, squeeze: number): void {
  const { plan, durations, masking, shown } = image;
  for (let p = 0; p < plan.length; p++) {
    const index = plan[p];
    if (lzw.prefix < 0) {
      lzw.prefix = index;
      continue;
    }
    const known = lzw.child(index);
    if (known >= 0) {
      lzw.prefix = known;
      continue;
    }
    const standIn =
      squeeze > 0 ? knownNear(lzw, near, index, allowance(squeeze, durations[p], masking[p])) : -1;
    if (standIn < 0) {
      lzw.breakBefore(index);
      continue;
    }
    lzw.prefix = lzw.child(standIn);
    shown[p] = standIn;
  }
}

/**
 * Greedy over the strings already known: a pixel that need not change may be written as transparent or as
 * what it shows; one that must is tried exactly, then left as it is if that is near enough, then as one of the
 * nearest colours.
 */
function encodeDelta(
  lzw: LzwEncoder,
  image: Image,
  near: NearColours,
  squeeze: number,
  transparent: number,
): void {
  const { plan, durations, masking, shown, width, rect } = image;
  const { distance } = near;
  for (let y = rect.top; y < rect.top + rect.height; y++) {
    const end = y * width + rect.left + rect.width;
    for (let p = y * width + rect.left; p < end; p++) {
      const duration = durations[p];
      const now = shown[p];
      const keeps = duration === 0 || plan[p] === now;
      const index = keeps ? transparent : plan[p];
      if (lzw.prefix < 0) {
        lzw.prefix = index;
        if (!keeps) shown[p] = index;
        continue;
      }
      let known = lzw.child(index);
      if (known >= 0) {
        lzw.prefix = known;
        if (!keeps) shown[p] = index;
        continue;
      }
      if (keeps) {
        known = lzw.child(now);
        if (known >= 0) lzw.prefix = known;
        else lzw.breakBefore(transparent);
        continue;
      }
      if (squeeze > 0) {
        const allowed = allowance(squeeze, duration, masking[p]);
        if (now !== transparent && distance[(index << 8) | now] <= allowed) {
          known = lzw.child(transparent);
          if (known >= 0) {
            lzw.prefix = known;
            continue;
          }
        }
        const standIn = knownNear(lzw, near, index, allowed);
        if (standIn >= 0) {
          lzw.prefix = lzw.child(standIn);
          shown[p] = standIn;
          continue;
        }
      }
      lzw.breakBefore(index);
      shown[p] = index;
    }
  }
}

/** The nearest colour within the allowance that goes on a known string; −1 if there is none. */
function knownNear(lzw: LzwEncoder, near: NearColours, index: number, allowed: number): number {
  for (let k = index * NEAR_COUNT; k < (index + 1) * NEAR_COUNT; k++) {
    const candidate = near.near[k];
    if (candidate < 0 || near.distance[(index << 8) | candidate] > allowed) return -1;
    if (lzw.child(candidate) >= 0) return candidate;
  }
  return -1;
}

import type { LumaPicture } from './luma-picture.js';
import { mapMotion, movingMargin } from './motion-map.js';
import { createAlignTemplate, type Registration, type Similarity } from './register.js';
import { warpLuma } from './warp.js';

/** If more of the picture moves, too little is left to estimate camera motion. */
const MOST_MOVING = 0.65;
/** The largest motion of a hand-held camera between neighbouring frames, shares of the width. */
const MOST_STEP = 1e-3;
/** The quieter part of the picture must fit better by this share where the camera is taken out. */
const BETTER = 0.97;
const QUIET = 0.3;
/** Gradient, levels a pixel, from which a place tells of the camera. */
const TEXTURED = 4;

/** Two frames that follow each other. */
export type FramePair = readonly [LumaPicture, LumaPicture];

/**
 * What is masked out when camera motion is estimated: nothing, or what moves by itself.
 * @param plate the frame that the others are to be brought to.
 * @param pairs others, of its size.
 * @returns 255 where something is left out, one byte a pixel; null where the camera stands still, or cannot
 * be seen for what moves.
 */
export function findCameraMask(plate: LumaPicture, pairs: readonly FramePair[]): Uint8Array | null {
  const nothing = new Uint8Array(plate.width * plate.height);
  const open = registerPairs(plate, nothing, pairs);
  if (!strays(plate, pairs, open)) return null;
  return isHeld(open) ? nothing : withoutMovers(plate, pairs);
}

type Registered = readonly (readonly [Registration, Registration])[];

function registerPairs(plate: LumaPicture, ignored: Uint8Array, pairs: readonly FramePair[]): Registered {
  const template = createAlignTemplate(plate, ignored);
  return pairs.map(([one, next]) => {
    const first = template.register(one);
    return [first, template.register(next, first.similarity)];
  });
}

/** Whether the quiet parts of the picture, those that do not move by themselves, fit better as registered. */
function strays(plate: LumaPicture, pairs: readonly FramePair[], found: Registered): boolean {
  const textured = texturedPlaces(plate);
  if (textured.length === 0) return false;
  let [left, taken] = [0, 0];
  for (const [i, [sample]] of pairs.entries()) {
    left += quietOf(plate, sample, textured);
    taken += quietOf(plate, warpLuma(sample, found[i][0].measured), textured);
  }
  return taken < BETTER * left;
}

function quietOf(plate: LumaPicture, sample: LumaPicture, places: Int32Array): number {
  const off = Float32Array.from(places, (p) => plate.values[p] - sample.values[p]);
  // The light may have changed.
  const light = Float32Array.from(off).sort()[off.length >> 1];
  return off.map((value) => Math.abs(value - light)).sort()[Math.floor(QUIET * off.length)];
}

function texturedPlaces({ width, height, values }: LumaPicture): Int32Array {
  const places: number[] = [];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      const across = values[p + 1] - values[p - 1];
      const down = values[p + width] - values[p - width];
      if (Math.hypot(across, down) > 2 * TEXTURED) places.push(p);
    }
  }
  return Int32Array.from(places);
}

/** Whether what was found moves as a hand does: from frame to frame by a little. */
function isHeld(found: Registered): boolean {
  return found.every(([{ measured: a }, { measured: b }]) => stepOf(a, b) <= MOST_STEP);
}

function stepOf(a: Similarity, b: Similarity): number {
  return Math.hypot(a.x - b.x, a.y - b.y, (a.turn - b.turn) / 3, (a.stretch - b.stretch) / 3);
}

/** The same once what moves is left out; null where that does not help either. */
function withoutMovers(plate: LumaPicture, pairs: readonly FramePair[]): Uint8Array | null {
  const samples = pairs.map(([sample]) => sample);
  // Motion is mapped against the middle frame.
  const middle = (samples.length + 1) >> 1;
  const movers = movingMargin(mapMotion([...samples.slice(0, middle), plate, ...samples.slice(middle)]));
  if (movers.filter((value) => value > 0).length > MOST_MOVING * movers.length) return null;
  return isHeld(registerPairs(plate, movers, pairs)) ? movers : null;
}

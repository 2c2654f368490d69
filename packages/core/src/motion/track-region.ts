import type { Size } from '../pixels/index.js';
import type { LumaPicture } from './luma-picture.js';

/** A region of a picture: its middle and its size, px of the picture. */
export interface TrackedRegion {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface TrackedPlace {
  readonly region: TrackedRegion;
  /** How alike the region is to what is followed, −1 to 1: its normalised correlation. */
  readonly confidence: number;
  /** False where it could not be found: then the region is where it was going. */
  readonly isFound: boolean;
}

/** Follows a region from picture to picture. */
export interface RegionTracker {
  /** Where it lies on the next picture. */
  next(picture: LumaPicture): TrackedPlace;
}

/** Samples a side of what is compared: more follow finer detail and take longer. */
const GRID = 28;
const COARSE_GRID = 14;
/** At least this alike, it is the same thing. */
const FOUND = 0.55;
/** At least this alike, something is what was lost. */
const FOUND_AGAIN = 0.78;
/** Of places that are nearly as alike, the nearer is believed: so much less alike for each of its sizes away. */
const FARTHER = 0.12;
/** At least this alike, what is followed learns how it looks now. */
const LEARNS = 0.7;
/** How fast it learns: a cover that slides over it must not be learned. */
const LEARNING = 0.12;
/** How far it is looked for around where it is going, parts of its size; wider while it is lost. */
const REACH = 0.45;
const WIDEST_REACH = 1.6;
/** Spread of the weights, parts of the region: at its rim, other things are seen. */
const BELL = 0.26;
/** Places of the rough search that are looked at closely. */
const CANDIDATES = 3;
/** Sizes that are tried at first, against the last one. */
const SCALES = [1, 0.94, 1.06];
const REFINEMENTS = 16;
/** Of size, natural logarithm, from one picture to the next. */
const LARGEST_LEAP = 0.1;
/** Size is easily mistaken: it is changed by this part of what the samples say. */
const CAREFUL = 0.7;
/** Steps smaller than this part of a sample are not worth another. */
const SMALL_STEP = 0.02;
/** Of the last step, how much it is expected to go on by. */
const MOMENTUM = 0.85;
/** The same while it is not seen: it goes on as it went. */
const BEHIND_COVER = 0.97;

/** What is followed: samples of a grid, their mean taken out, weighted towards the middle. */
interface Template {
  readonly side: number;
  readonly values: Float64Array;
}

/**
 * Template matching: a search by normalised correlation over a coarse grid around where the region is going, then
 * Gauss–Newton steps for place and size on a finer one (S. Baker and I. Matthews, "Lucas-Kanade 20 years on",
 * IJCV 56(3), 2004; inverse compositional, with the mean and the contrast taken out). It is held against how it
 * looked at first and how it looked lately; the first keeps it from drifting, the other lets it turn and change.
 * @param region where it lies on the first picture.
 */
export function createRegionTracker(picture: LumaPicture, region: TrackedRegion): RegionTracker {
  const first = { fine: sampled(picture, region, GRID), coarse: sampled(picture, region, COARSE_GRID) };
  const lately = { fine: copyOf(first.fine), coarse: copyOf(first.coarse) };
  let at = region;
  let [stepX, stepY, lost] = [0, 0, 0];
  return {
    next(now) {
      const share = lost > 0 ? BEHIND_COVER : MOMENTUM;
      const expected = { ...at, x: at.x + stepX * share, y: at.y + stepY * share };
      const reach = Math.min(WIDEST_REACH, REACH * (1 + lost * 0.12));
      const templates = lost > 0 ? [lately.coarse, first.coarse] : [lately.coarse];
      const places = search(now, expected, templates, reach);
      const recent = nearest(
        places.map((place) => refine(now, place, lately.fine)),
        expected,
      );
      const original = refine(now, recent.region, first.fine);
      // Close enough to how it looked at first, that is believed: it does not drift.
      const best = original.confidence >= Math.max(FOUND, recent.confidence - 0.12) ? original : recent;
      const confidence = Math.max(recent.confidence, original.confidence);
      if (
        confidence < (lost > 0 ? FOUND_AGAIN : FOUND) ||
        sizeLeaps(best.region, at) ||
        isOutside(best.region, now)
      ) {
        lost++;
        stepX *= BEHIND_COVER;
        stepY *= BEHIND_COVER;
        at = expected;
        return { region: at, confidence, isFound: false };
      }
      const frames = lost + 1;
      // After a cover, the last place was a guess.
      if (frames === 1) [stepX, stepY] = [best.region.x - at.x, best.region.y - at.y];
      lost = 0;
      at = best.region;
      if (confidence >= LEARNS && isWhole(at, now)) {
        learn(lately.fine, sampled(now, at, GRID));
        learn(lately.coarse, sampled(now, at, COARSE_GRID));
      }
      return { region: at, confidence, isFound: true };
    },
  };
}

/** From one picture to the next, nothing grows or shrinks by much. */
function sizeLeaps(one: TrackedRegion, other: TrackedRegion): boolean {
  return Math.abs(Math.log(one.width / other.width)) > LARGEST_LEAP;
}

/** Its middle has left the picture: what is seen of it is too little. */
function isOutside({ x, y }: TrackedRegion, { width, height }: Size): boolean {
  return x < 0 || y < 0 || x > width || y > height;
}

/** No part of it lies outside the picture. */
function isWhole({ x, y, width, height }: TrackedRegion, picture: Size): boolean {
  const [half, tall] = [width / 2, height / 2];
  return x >= half && y >= tall && x + half <= picture.width && y + tall <= picture.height;
}

function copyOf({ side, values }: Template): Template {
  return { side, values: values.slice() };
}

function learn(template: Template, now: Template): void {
  for (let i = 0; i < now.values.length; i++) {
    template.values[i] += (now.values[i] - template.values[i]) * LEARNING;
  }
}

/** Bilinear; beyond the picture, its edge goes on. */
function valueAt({ width, height, values }: LumaPicture, x: number, y: number): number {
  const across = Math.max(0, Math.min(width - 1.001, x));
  const down = Math.max(0, Math.min(height - 1.001, y));
  const [left, top] = [Math.floor(across), Math.floor(down)];
  const [right, below] = [across - left, down - top];
  const p = top * width + left;
  const upper = values[p] + (values[p + 1] - values[p]) * right;
  if (top + 1 >= height) return upper;
  const q = p + width;
  const lower = values[q] + (values[q + 1] - values[q]) * right;
  return upper + (lower - upper) * below;
}

const weightsOf = new Map<number, Float64Array>();

/** A bell over the grid, sum 1: what lies at the region's rim is mostly not the thing itself. */
function weights(side: number): Float64Array {
  const there = weightsOf.get(side);
  if (there) return there;
  const made = new Float64Array(side * side);
  let sum = 0;
  for (let i = 0; i < made.length; i++) {
    const x = ((i % side) + 0.5) / side - 0.5;
    const y = (Math.floor(i / side) + 0.5) / side - 0.5;
    made[i] = Math.exp(-(x * x + y * y) / (2 * BELL * BELL));
    sum += made[i];
  }
  for (let i = 0; i < made.length; i++) made[i] /= sum;
  weightsOf.set(side, made);
  return made;
}

/** Samples of a region, mean 0 and spread 1 by the weights. */
function sampled(picture: LumaPicture, { x, y, width, height }: TrackedRegion, side: number): Template {
  const values = new Float64Array(side * side);
  for (let row = 0, i = 0; row < side; row++) {
    const down = y + ((row + 0.5) / side - 0.5) * height - 0.5;
    for (let column = 0; column < side; column++, i++) {
      values[i] = valueAt(picture, x + ((column + 0.5) / side - 0.5) * width - 0.5, down);
    }
  }
  return { side, values: normalised(values, weights(side)) };
}

function normalised(values: Float64Array, shares: Float64Array): Float64Array {
  let mean = 0;
  for (let i = 0; i < values.length; i++) mean += values[i] * shares[i];
  let square = 0;
  for (let i = 0; i < values.length; i++) {
    values[i] -= mean;
    square += values[i] * values[i] * shares[i];
  }
  // Plain ground is like nothing.
  const spread = Math.sqrt(square) + 0.5;
  for (let i = 0; i < values.length; i++) values[i] /= spread;
  return values;
}

function correlation(one: Template, other: Template): number {
  const shares = weights(one.side);
  let [both, first, second] = [0, 0, 0];
  for (let i = 0; i < shares.length; i++) {
    both += one.values[i] * other.values[i] * shares[i];
    first += one.values[i] ** 2 * shares[i];
    second += other.values[i] ** 2 * shares[i];
  }
  return both / (Math.sqrt(first * second) + 1e-9);
}

/** The best places on a grid around the expected one, apart from each other, the best first. */
function search(
  picture: LumaPicture,
  expected: TrackedRegion,
  templates: readonly Template[],
  reach: number,
): TrackedRegion[] {
  const step = Math.max(1, Math.min(expected.width, expected.height) / COARSE_GRID);
  const across = Math.ceil((reach * expected.width) / step);
  const down = Math.ceil((reach * expected.height) / step);
  const alikeAt = (region: TrackedRegion) => {
    const there = sampled(picture, region, COARSE_GRID);
    return Math.max(...templates.map((template) => correlation(template, there)));
  };
  // Every other place first, then those around the best.
  const looked: Refined[] = [];
  for (let row = -down; row <= down; row += 2) {
    for (let column = -across; column <= across; column += 2) {
      const region = { ...expected, x: expected.x + column * step, y: expected.y + row * step };
      looked.push({ region, confidence: alikeAt(region) });
    }
  }
  looked.sort((one, other) => other.confidence - one.confidence);
  const apart: TrackedRegion[] = [];
  for (const { region } of looked) {
    if (apart.length === CANDIDATES) break;
    if (apart.every((one) => Math.hypot(one.x - region.x, one.y - region.y) > 3 * step)) apart.push(region);
  }
  return apart.map((rough) => {
    const around = SCALES.flatMap((scale) =>
      AROUND.map(([right, below]) => ({
        x: rough.x + right * step,
        y: rough.y + below * step,
        width: expected.width * scale,
        height: expected.height * scale,
      })),
    );
    return surest(around.map((region) => ({ region, confidence: alikeAt(region) }))).region;
  });
}

function nearest(all: readonly Refined[], expected: TrackedRegion): Refined {
  const worth = ({ region, confidence }: Refined) =>
    confidence -
    (FARTHER * Math.hypot(region.x - expected.x, region.y - expected.y)) /
      Math.max(expected.width, expected.height);
  return all.reduce((best, one) => (worth(one) > worth(best) ? one : best));
}

function surest(all: readonly Refined[]): Refined {
  return all.reduce((best, one) => (one.confidence > best.confidence ? one : best));
}

const AROUND = [-1, 0, 1].flatMap((row) => [-1, 0, 1].map((column) => [column, row] as const));

interface Refined {
  readonly region: TrackedRegion;
  readonly confidence: number;
}

/** Moves and sizes the region until its samples are those of the template. */
function refine(picture: LumaPicture, start: TrackedRegion, template: Template): Refined {
  const { side, values } = template;
  const shares = weights(side);
  const slopes = slopesOf(template);
  let region = start;
  let confidence = correlation(template, sampled(picture, region, side));
  for (let turn = 0; turn < REFINEMENTS; turn++) {
    const there = sampled(picture, region, side);
    const towards = new Float64Array(3);
    for (let i = 0; i < values.length; i++) {
      const off = (there.values[i] - values[i]) * shares[i];
      towards[0] += slopes.across[i] * off;
      towards[1] += slopes.down[i] * off;
      towards[2] += slopes.grown[i] * off;
    }
    const [right, below, grown] = solve3(slopes.normal, towards);
    // In samples of the grid, against the way the template would have to go.
    const next = {
      x: region.x - (right * region.width) / side,
      y: region.y - (below * region.height) / side,
      width: region.width * (1 - grown * CAREFUL),
      height: region.height * (1 - grown * CAREFUL),
    };
    const isWild = Math.hypot(right, below) > side / 2 || Math.abs(grown) > 0.3;
    if (isWild || !Number.isFinite(next.x + next.y + next.width)) break;
    const alike = correlation(template, sampled(picture, next, side));
    if (alike < confidence - 0.02) break;
    region = next;
    confidence = alike;
    if (Math.hypot(right, below) < SMALL_STEP && Math.abs(grown) < SMALL_STEP / side) break;
  }
  return { region, confidence };
}

/** How the template's samples change when it moves by a sample, or grows. */
interface Slopes {
  readonly across: Float64Array;
  readonly down: Float64Array;
  readonly grown: Float64Array;
  /** The weighted products of the three with each other, row by row. */
  readonly normal: readonly number[];
}

function slopesOf({ side, values }: Template): Slopes {
  const shares = weights(side);
  const [across, down, grown] = [0, 1, 2].map(() => new Float64Array(values.length));
  const at = (column: number, row: number) =>
    values[Math.max(0, Math.min(side - 1, row)) * side + Math.max(0, Math.min(side - 1, column))];
  for (let row = 0, i = 0; row < side; row++) {
    for (let column = 0; column < side; column++, i++) {
      across[i] = (at(column + 1, row) - at(column - 1, row)) / 2;
      down[i] = (at(column, row + 1) - at(column, row - 1)) / 2;
      grown[i] = across[i] * (column + 0.5 - side / 2) + down[i] * (row + 0.5 - side / 2);
    }
  }
  const all = [across, down, grown];
  const normal = all.flatMap((one, i) =>
    all.map((other, k) => {
      let sum = i === k ? 1e-6 : 0;
      for (let p = 0; p < values.length; p++) sum += one[p] * other[p] * shares[p];
      return sum;
    }),
  );
  return { across, down, grown, normal };
}

/** Three equations by Cramer's rule. */
function solve3(m: readonly number[], v: Float64Array): [number, number, number] {
  const [a, b, c, d, e, f, g, h, i] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(det) < 1e-18) return [0, 0, 0];
  const [p, q, r] = v;
  return [
    (p * (e * i - f * h) - b * (q * i - f * r) + c * (q * h - e * r)) / det,
    (a * (q * i - f * r) - p * (d * i - f * g) + c * (d * r - q * g)) / det,
    (a * (e * r - q * h) - b * (d * r - q * g) + p * (d * h - e * g)) / det,
  ];
}

import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../../tools/make-kernel.mjs';
import { createFrame } from '../pixels/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { COLOUR_KERNEL } from './colour-kernel.js';
import {
  COLOUR_LIMITS,
  type ColourFunction,
  type ColourSettings,
  colourExactly,
  colourFunctions,
  createKernelColour,
  createPlainColour,
  denseKnots,
  evenKnots,
  foldColours,
  foldSettings,
  type Grade,
  gradeFunction,
  inTurn,
  keepsColours,
  LOOK_IDS,
  LOOKS,
  lookFunction,
  lookOf,
  NO_GRADE,
  OWN_COLOURS,
  sharpen,
} from './index.js';

const graded = (part: Partial<Grade>) => gradeFunction({ ...NO_GRADE, ...part }) as ColourFunction;

/** One colour through a function, levels. */
function through(change: ColourFunction, levels: readonly number[]): number[] {
  const colour = Float64Array.from(levels, (level) => level / 255);
  change(colour);
  return [...colour].map((value) => value * 255);
}

/** IEC 61966-2-1, written down once more for these tests. */
const toLinear = (level: number) =>
  level / 255 <= 0.04045 ? level / 255 / 12.92 : ((level / 255 + 0.055) / 1.055) ** 2.4;
const toLevel = (linear: number) =>
  255 * (linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055);

/** A grade within its bounds, any part of it left as it is now and then. */
function gradeFrom(random: () => number): Grade {
  const pick = ({ min, max }: { min: number; max: number }) =>
    random() < 0.3 ? 0 : min + random() * (max - min);
  return {
    exposure: pick(COLOUR_LIMITS.exposure),
    contrast: pick(COLOUR_LIMITS.contrast),
    black: pick(COLOUR_LIMITS.black),
    saturation: pick(COLOUR_LIMITS.saturation),
    warmth: pick(COLOUR_LIMITS.warmth),
    tint: pick(COLOUR_LIMITS.tint),
  };
}

describe('a grade', () => {
  it('of nothing is no function at all', () => {
    expect(gradeFunction(NO_GRADE)).toBeNull();
    expect(keepsColours(OWN_COLOURS)).toBe(true);
  });

  it('by a stop doubles linear light', () => {
    for (const level of [3, 40, 90, 128]) {
      const [red] = through(graded({ exposure: 1 }), [level, level, level]);
      expect(red).toBeCloseTo(toLevel(toLinear(level) * 2), 1);
      const [back] = through(graded({ exposure: -1 }), [level, level, level]);
      expect(back).toBeCloseTo(toLevel(toLinear(level) / 2), 1);
    }
  });

  it('of contrast keeps black, white and middle grey, and spreads what lies around it', () => {
    for (const contrast of [-100, -30, 30, 100]) {
      const at = (level: number) => through(graded({ contrast }), [level, level, level])[0];
      const middle = toLevel(0.565 ** 3);
      expect(at(0)).toBeCloseTo(0, 5);
      expect(at(255)).toBeCloseTo(255, 1);
      expect(at(middle)).toBeCloseTo(middle, 1);
      const spread = at(middle + 20) - at(middle - 20);
      if (contrast > 0) expect(spread).toBeGreaterThan(42);
      else expect(spread).toBeLessThan(39);
    }
  });

  it('never turns lighter greys darker than darker ones (40 seeds)', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const change = gradeFunction(gradeFrom(seeded(seed)));
      if (!change) continue;
      let before = Number.NEGATIVE_INFINITY;
      for (let level = 0; level <= 255; level += 5) {
        const [, green] = through(change, [level, level, level]);
        expect(green, `seed ${seed}, level ${level}`).toBeGreaterThanOrEqual(before - 1e-6);
        before = green;
      }
    }
  });

  it('of no saturation is grey, of warmth takes from blue to red, of tint from green', () => {
    const [red, green, blue] = through(graded({ saturation: -100 }), [200, 90, 30]);
    expect(red).toBeCloseTo(green, 6);
    expect(green).toBeCloseTo(blue, 6);
    const warm = through(graded({ warmth: 60 }), [128, 128, 128]);
    expect(warm[0]).toBeGreaterThan(130);
    expect(warm[2]).toBeLessThan(126);
    expect(through(graded({ tint: 60 }), [128, 128, 128])[1]).toBeLessThan(127);
  });

  it('of warmth and tint keeps the luminance of grey', () => {
    for (const part of [{ warmth: 100 }, { warmth: -70, tint: 40 }, { tint: -100 }]) {
      const [red, green, blue] = through(graded(part), [120, 120, 120]).map(toLinear);
      expect(0.2126 * red + 0.7152 * green + 0.0722 * blue).toBeCloseTo(toLinear(120), 4);
    }
  });

  it('of black moves black to where it says, and white nowhere', () => {
    expect(through(graded({ black: 10 }), [25.5, 25.5, 25.5])[0]).toBeCloseTo(0, 4);
    expect(through(graded({ black: -10 }), [0, 0, 0])[0]).toBeCloseTo(25.5, 4);
    for (const black of [-10, 10]) expect(through(graded({ black }), [255, 255, 255])[0]).toBeCloseTo(255, 4);
  });
});

describe('looks', () => {
  it('are a dozen or more, several truly black and white', () => {
    expect(LOOK_IDS.length).toBeGreaterThanOrEqual(12);
    const plain = LOOK_IDS.filter((id) => 'mix' in LOOKS[id] && !('darks' in LOOKS[id]));
    expect(plain.length).toBeGreaterThanOrEqual(4);
    for (const id of plain) {
      const out = colourExactly(noiseFrame(20, 20, seeded(3)), lookFunction(LOOKS[id])).rgba;
      for (let i = 0; i < out.length; i += 4) {
        expect([out[i], out[i + 1]], id).toEqual([out[i + 1], out[i + 2]]);
      }
    }
  });

  it('each do something of their own', () => {
    const picture = noiseFrame(16, 16, seeded(4));
    const made = LOOK_IDS.map((id) => colourExactly(picture, lookFunction(LOOKS[id])).rgba.join());
    expect(new Set([...made, picture.rgba.join()]).size).toBe(LOOK_IDS.length + 1);
  });

  it('mix all of the light that there is', () => {
    for (const id of LOOK_IDS) {
      const { mix } = lookOf(id);
      if (mix) expect(mix[0] + mix[1] + mix[2], id).toBeCloseTo(1, 6);
    }
  });

  it('are as strong as they are asked to be', () => {
    const at = (strength: number) => {
      const settings: ColourSettings = { ...OWN_COLOURS, look: { id: 'wet-slate', strength } };
      const { look } = colourFunctions(settings, null);
      return look ? through(look, [200, 100, 50]) : [200, 100, 50];
    };
    expect(at(0)).toEqual([200, 100, 50]);
    const [half, whole] = [at(50), at(100)];
    for (const c of [0, 1, 2]) expect(half[c]).toBeCloseTo(([200, 100, 50][c] + whole[c]) / 2, 6);
  });
});

/** Colours at random, and the edges of the cube, where cutting off begins. */
function trickyFrame(seed: number) {
  const random = seeded(seed);
  const frame = noiseFrame(64, 48, random);
  for (let i = 0; i < frame.rgba.length; i += 4) {
    const kind = wholeFrom(random, 0, 3);
    if (kind === 0) for (let c = 0; c < 3; c++) frame.rgba[i + c] >>= 4;
    if (kind === 1) frame.rgba[i + wholeFrom(random, 0, 2)] = random() < 0.5 ? 0 : 255;
  }
  return frame;
}

describe('the folded table', () => {
  it('has a kernel compiled from its source as it stands', () => {
    expect(Buffer.from(COLOUR_KERNEL, 'base64').equals(compileKernel('colour'))).toBe(true);
  });

  it('is within a level of every look itself', () => {
    for (const id of LOOK_IDS) assertWithinALevel(lookFunction(LOOKS[id]), 7, id);
  });

  it('is within a level of grades and of looks over them (30 seeds)', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const random = seeded(seed);
      const settings: ColourSettings = {
        ...OWN_COLOURS,
        grade: gradeFrom(random),
        look:
          seed % 2 === 0
            ? { id: LOOK_IDS[wholeFrom(random, 0, LOOK_IDS.length - 1)], strength: 100 * random() }
            : null,
      };
      const { grade, look } = colourFunctions(settings, null);
      const change = inTurn([grade, look]);
      if (change) assertWithinALevel(change, seed, `seed ${seed}`);
    }
  });

  function assertWithinALevel(change: ColourFunction, seed: number, told: string): void {
    const frame = trickyFrame(seed);
    const exact = colourExactly(frame, change).rgba;
    const colour = createPlainColour(foldSettings(change, { cube: null, isDraft: false }));
    const made = colour(frame).rgba;
    let worst = 0;
    for (let i = 0; i < made.length; i++) worst = Math.max(worst, Math.abs(made[i] - exact[i]));
    expect(worst, told).toBeLessThanOrEqual(1);
  }

  it('is the same with the kernel and without, to the byte (9 seeds, three sizes, all widths)', () => {
    for (let seed = 1; seed <= 9; seed++) {
      const random = seeded(seed);
      const size = [17, 33, 65][seed % 3];
      const knots = seed % 2 === 0 ? denseKnots(size) : evenKnots(size);
      const table = foldColours((colour) => {
        for (let c = 0; c < 3; c++) colour[c] = colour[c] * 1.4 - 0.2 + 0.3 * (random() - 0.5);
      }, knots);
      const kernel = createKernelColour(table);
      const plain = createPlainColour(table);
      // One kernel takes frames of several sizes, and counts of pixels that are no multiple of four.
      for (const width of [7, 40, 5]) {
        const frame = noiseFrame(width, 11, random);
        for (let i = 3; i < frame.rgba.length; i += 4) frame.rgba[i] = wholeFrom(random, 0, 255);
        expect(kernel?.(frame).rgba, `seed ${seed}, width ${width}`).toEqual(plain(frame).rgba);
      }
    }
  });

  it('of nothing leaves every level as it is, and writes into nobody’s pixels', () => {
    const colour = createPlainColour(foldColours(() => {}));
    const ramp = createFrame(256, 1);
    for (let level = 0; level < 256; level++) ramp.rgba.set([level, 255 - level, level, level], level * 4);
    const before = ramp.rgba.slice();
    expect(colour(ramp).rgba).toEqual(before);
    expect(ramp.rgba).toEqual(before);
  });
});

describe('sharpness', () => {
  it('leaves plain ground and alpha alone, and steepens an edge without colouring it', () => {
    const frame = createFrame(12, 6);
    for (let p = 0; p < 72; p++) frame.rgba.set(p % 12 < 6 ? [60, 60, 60, 255] : [180, 180, 180, 128], p * 4);
    const { rgba } = sharpen(frame, 80);
    const at = (x: number) => [...rgba.subarray((2 * 12 + x) * 4, (2 * 12 + x) * 4 + 4)];
    expect(at(0)).toEqual([60, 60, 60, 255]);
    expect(at(11)).toEqual([180, 180, 180, 128]);
    expect(at(5)[0]).toBeLessThan(60);
    expect(at(6)[0]).toBeGreaterThan(180);
    expect(at(5)[0]).toBe(at(5)[2]);
    expect(sharpen(frame, 0)).toBe(frame);
  });
});

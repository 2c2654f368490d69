import { UNDRESSED } from '@muted-pond/core/dress';
import { PLAIN_LOOP } from '@muted-pond/core/loop';
import { DEFAULT_WEIGH, newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { NOTHING_HELD } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import type { MakingFile } from '../src/making/index.js';
import { mayBeClear, partsOf, sampleOf } from '../src/making/reel-parts.js';

const size = { width: 40, height: 30 };

function planOf(frames: number, layers: number) {
  const reel = Array.from({ length: frames }, (_, source) => ({ source, delayCs: 4 }));
  const own = (layer: number) => reel.map(({ delayCs }, place) => ({ source: place * 10 + layer, delayCs }));
  const still = {
    ...NOTHING_HELD,
    plate: { kind: 'frame' as const, frame: 0 },
    layers: Array.from({ length: layers }, (_, layer) => ({ ripples: [], reel: own(layer) })),
  };
  const take = { size, times: { starts: [0], duration: 1 }, frame: () => expect.fail() };
  const beginsCs = reel.map((_, place) => place * 4);
  const shown = layers > 0 ? still : null;
  return {
    take,
    reel,
    beginsCs,
    size,
    still: shown,
    dress: UNDRESSED,
    steadyTo: null,
    weaves: {},
    isDraft: false,
    composition: () => expect.fail(),
  };
}

describe('parts of a reel', () => {
  it('hold every frame once and in order, with what moves over the plate beside it (40 seeds)', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const random = seeded(seed);
      const frames = wholeFrom(random, 1, 400);
      const layers = wholeFrom(random, 0, 3);
      const each = wholeFrom(random, 2, 90);
      const plan = planOf(frames, layers);
      const parts = partsOf(plan, each * size.width * size.height);
      const told = `seed ${seed}`;
      expect(
        parts.flatMap((part) => part.reel),
        told,
      ).toEqual(plan.reel);
      for (const part of parts) {
        expect(part.reel.length, told).toBeGreaterThan(0);
        // Bounds are rounded, so that one part may be a frame longer than its share.
        expect(part.reel.length, told).toBeLessThanOrEqual(each + 1);
        for (const [layer, { reel }] of (part.still?.layers ?? []).entries()) {
          expect(reel.map(({ source }) => source)).toEqual(
            part.reel.map(({ source }) => source * 10 + layer),
          );
        }
      }
      const lengths = parts.map((part) => part.reel.length);
      expect(Math.max(...lengths) - Math.min(...lengths), told).toBeLessThanOrEqual(1);
    }
  });
});

describe('a sample of a reel', () => {
  it('is spread over all of it, layers beside it, and never long (40 seeds)', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const random = seeded(seed);
      const frames = wholeFrom(random, 1, 900);
      const sample = sampleOf(planOf(frames, 2));
      const places = sample.reel.map(({ source }) => source);
      expect(places.length, `seed ${seed}`).toBe(Math.min(frames, 24));
      expect(places[0]).toBe(0);
      const steps = places.slice(1).map((place, i) => place - places[i]);
      if (steps.length > 0) expect(Math.max(...steps) - Math.min(...steps)).toBeLessThanOrEqual(1);
      expect(frames - 1 - places[places.length - 1]).toBeLessThanOrEqual(Math.ceil(frames / 24));
      expect(sample.still?.layers[1].reel.map(({ source }) => source)).toEqual(places.map((p) => p * 10 + 1));
    }
  });
});

describe('whether a reel may have clear pixels', () => {
  const times = { starts: [0, 0.1, 0.2], duration: 0.3 };
  const footage = newRecipe('a'.repeat(64), times);
  const file = (hasAlpha: boolean) => [{ facts: { hasAlpha } }] as unknown as MakingFile[];

  it('is told from the file, the matte of stills and the box', () => {
    expect(mayBeClear(footage, file(false))).toBe(false);
    expect(mayBeClear(footage, file(true))).toBe(true);
    const boxed = (matte: '#000000' | 'transparent'): Recipe => ({
      ...footage,
      framing: { ...footage.framing, box: { ...size, fit: 'contain', matte } },
    });
    expect(mayBeClear(boxed('#000000'), file(false))).toBe(false);
    expect(mayBeClear(boxed('transparent'), file(false))).toBe(true);
    const stills = (matte: '#ffffff' | 'transparent'): Recipe => ({
      ...footage,
      loop: PLAIN_LOOP,
      weigh: DEFAULT_WEIGH,
      sources: [{ kind: 'stills', pictures: [], canvas: size, fit: 'contain', matte, delayCs: 100 }],
    });
    expect(mayBeClear(stills('#ffffff'), file(false))).toBe(false);
    expect(mayBeClear(stills('transparent'), file(false))).toBe(true);
  });
});

import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import {
  FIT_KINDS,
  type FitSettings,
  fitSettingsAt,
  fitUnder,
  MOST_ENCODES,
  PALETTE_FIT,
  QUALITY_FIT,
} from './index.js';

const best: FitSettings = { width: 640, frameRate: 20, colors: 256, settle: 2.2, squeeze: 0 };

/** Bytes as measured on real clips: with width, rate, colours and quality, each a power of its own. */
function weigher(seed: number, heaviest: number) {
  const random = seeded(seed);
  const across = 1.6 + 0.8 * random();
  const perFrame = 0.4 + 0.5 * random();
  const quality = 0.3 + 0.5 * random();
  return ({ width, frameRate, colors, settle, squeeze }: FitSettings) =>
    Math.round(
      heaviest *
        (width / best.width) ** across *
        (frameRate / best.frameRate) ** perFrame *
        (colors / best.colors) ** 0.22 *
        ((settle + squeeze + 2) / 4.2) ** -quality,
    );
}

describe('the way down', () => {
  it.each(FIT_KINDS)('of “%s” begins at the best and never gets heavier', (kind) => {
    expect(fitSettingsAt(PALETTE_FIT, kind, best, 0)).toEqual(best);
    let before = best;
    for (let place = 0.01; place <= 1; place += 0.01) {
      const now = fitSettingsAt(PALETTE_FIT, kind, best, place);
      for (const name of ['width', 'frameRate', 'colors'] as const)
        expect(now[name]).toBeLessThanOrEqual(before[name]);
      for (const name of ['settle', 'squeeze'] as const)
        expect(now[name]).toBeGreaterThanOrEqual(before[name]);
      before = now;
    }
  });

  it('keeps longest what it is named after', () => {
    expect(fitSettingsAt(PALETTE_FIT, 'sharp', best, 0.25).width).toBe(best.width);
    expect(fitSettingsAt(PALETTE_FIT, 'smooth', best, 0.4).frameRate).toBe(best.frameRate);
    expect(fitSettingsAt(PALETTE_FIT, 'colour', best, 0.5).colors).toBe(best.colors);
  });
});

describe('fitting under a limit', () => {
  const seeds = [1, 2, 3, 5, 8, 13, 21, 34];
  it.each(seeds)('lands at 0.92 to 1 of it within six encodes (seed %i)', async (seed) => {
    const weigh = weigher(seed, 3_000_000);
    for (const kind of FIT_KINDS) {
      for (const limit of [2_400_000, 900_000, 420_000]) {
        let encodes = 0;
        const result = await fitUnder(PALETTE_FIT, kind, best, limit, async (settings) => {
          encodes++;
          return { file: settings, bytes: weigh(settings) };
        });
        if (result.type !== 'fits') throw new Error(`${kind} does not fit under ${limit}.`);
        const { bytes, settings, file } = result.fitted;
        expect(encodes).toBeLessThanOrEqual(MOST_ENCODES);
        expect(file).toBe(settings);
        expect(bytes).toBe(weigh(settings));
        expect(bytes).toBeLessThanOrEqual(limit);
        expect(bytes / limit).toBeGreaterThanOrEqual(0.92);
      }
    }
  });

  it('gives nothing up where the best file fits already', async () => {
    const result = await fitUnder(PALETTE_FIT, 'sharp', best, 900_000, async (file) => ({
      file,
      bytes: 300_000,
    }));
    expect(result).toMatchObject({ type: 'fits', fitted: { settings: best, encodes: 1 } });
  });

  it('refuses with the lightest file there is when even that is too heavy', async () => {
    const result = await fitUnder(PALETTE_FIT, 'colour', best, 1000, async (file) => ({
      file,
      bytes: Math.round(400 * file.width),
    }));
    expect(result.type).toBe('too-heavy');
    if (result.type === 'too-heavy')
      expect(result.settings).toEqual(fitSettingsAt(PALETTE_FIT, 'colour', best, 1));
  });

  it('takes the best under the limit where bytes leap', async () => {
    const result = await fitUnder(PALETTE_FIT, 'smooth', best, 500_000, async (file) => ({
      file,
      bytes: file.width > 400 ? 900_000 : 300_000,
    }));
    if (result.type !== 'fits') throw new Error('It does not fit.');
    expect(result.fitted.bytes).toBe(300_000);
  });
});

describe('files whose encoder has a quality', () => {
  const best: FitSettings = { width: 640, frameRate: 30, quality: 90 };

  it.each(FIT_KINDS)('of “%s” give up quality first and never get heavier', (kind) => {
    let before = best;
    for (let place = 0; place <= 1; place += 0.02) {
      const now = fitSettingsAt(QUALITY_FIT, kind, best, place);
      for (const name of Object.keys(best)) expect(now[name]).toBeLessThanOrEqual(before[name]);
      before = now;
    }
    const early = fitSettingsAt(QUALITY_FIT, kind, best, 0.05);
    expect(early).toMatchObject({ width: best.width, frameRate: best.frameRate });
    expect(early.quality).toBeLessThan(best.quality);
  });

  it.each([4, 7, 11])('land at 0.92 to 1 of a limit (seed %i)', async (seed) => {
    const random = seeded(seed);
    const [slope, across, perFrame] = [0.02 + 0.025 * random(), 1.4 + 0.6 * random(), 0.3 + 0.4 * random()];
    const weigh = ({ width, frameRate, quality }: FitSettings) =>
      Math.round(
        2e6 * Math.exp(slope * (quality - 90)) * (width / 640) ** across * (frameRate / 30) ** perFrame,
      );
    for (const kind of FIT_KINDS) {
      for (const limit of [1_500_000, 600_000, 250_000]) {
        const result = await fitUnder(QUALITY_FIT, kind, best, limit, async (settings) => ({
          file: settings,
          bytes: weigh(settings),
        }));
        if (result.type !== 'fits') throw new Error(`${kind} does not fit under ${limit}.`);
        expect(result.fitted.bytes).toBeLessThanOrEqual(limit);
        expect(result.fitted.bytes / limit).toBeGreaterThanOrEqual(0.92);
        expect(result.fitted.encodes).toBeLessThanOrEqual(MOST_ENCODES);
      }
    }
  });
});

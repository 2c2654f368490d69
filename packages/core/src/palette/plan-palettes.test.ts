import { describe, expect, it } from 'vitest';
import { colourDistance, createFrame, type PixelFrame, type Rgb } from '../pixels/index.js';
import { type SettledReel, settle } from '../settle/index.js';
import { movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded } from '../testing/seeded.js';
import { createColourCounter, mapColours, NO_CHOICE, type PalettePlan, planPalettes } from './index.js';

function planned(reel: SettledReel, plan: PalettePlan, colours = 255, bytePrice = 1) {
  const palettes = planPalettes(reel, { plan, colours, chosen: NO_CHOICE, bytePrice });
  return mapColours(reel, palettes, 'none', 0);
}

/** Squared error of the planned colours against the settled ones, over segments and their durations. */
function errorOf(reel: ReturnType<typeof planned>): number {
  let sum = 0;
  reel.plans.forEach((plan, f) => {
    plan.forEach((index, p) => {
      const duration = reel.durations[f][p];
      if (duration === 0) return;
      const settled = [...reel.frames[f].rgba.subarray(p * 4, p * 4 + 3)] as unknown as Rgb;
      sum += colourDistance(settled, reel.palettes[reel.paletteOf[f]][index]) * duration;
    });
  });
  return sum;
}

function flat(...colours: Rgb[]): PixelFrame[] {
  return colours.map((colour) => {
    const frame = createFrame(12, 9);
    for (let at = 0; at < frame.rgba.length; at += 4) frame.rgba.set([...colour, 255], at);
    return frame;
  });
}

describe('palettes of a reel', () => {
  const scenes = () => {
    const random = seeded(3);
    return settle(
      [...movingBall(60, 40, 4, { grain: 12 }), ...[0, 1].map(() => noiseFrame(60, 40, random))],
      3,
    );
  };

  it('err less the more there are', () => {
    const [loop, auto, frame] = (['loop', 'auto', 'frame'] as const).map((plan) => planned(scenes(), plan));
    expect(loop.palettes).toHaveLength(1);
    expect(auto.palettes.length).toBeGreaterThan(1);
    expect(frame.palettes).toHaveLength(6);
    expect(errorOf(auto)).toBeLessThan(errorOf(loop));
    expect(errorOf(frame)).toBeLessThanOrEqual(errorOf(auto));
  });

  it('are one by themselves where fewer colours were asked for, where the colours fit exactly, and where tables cost more than they bring', () => {
    expect(planned(scenes(), 'auto', 64).palettes).toHaveLength(1);
    expect(planned(scenes(), 'auto', 255, 1e9).palettes).toHaveLength(1);
    const few = settle(flat([10, 20, 30], [200, 100, 50], [0, 0, 255]), 0);
    const exact = planned(few, 'auto');
    expect(exact.palettes).toEqual([[...exact.palettes[0]]]);
    expect(exact.palettes[0]).toHaveLength(3);
    expect(errorOf(exact)).toBe(0);
  });

  it('go on with the palette before where a frame draws nothing', () => {
    const reel = planned(settle(flat([9, 9, 9], [9, 9, 9], [90, 9, 9], [90, 9, 9]), 0), 'frame');
    expect(reel.palettes).toHaveLength(1);
    const many = planned(
      settle([...movingBall(30, 20, 1, { grain: 9 }), ...movingBall(30, 20, 1, { grain: 9 })], 0),
      'frame',
      8,
    );
    expect(many.paletteOf).toEqual([0, 0]);
  });

  it('share all pixels among their colours, each told once', () => {
    const reel = planned(scenes(), 'frame', 40);
    const counter = createColourCounter();
    counter.add(reel);
    const { palette, shares } = counter.result();
    expect(new Set(palette.map(String)).size).toBe(palette.length);
    expect(shares).toHaveLength(palette.length);
    expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
    // Counted the plain way for the most used colour.
    const most = palette[shares.indexOf(Math.max(...shares))];
    let count = 0;
    reel.plans.forEach((plan, f) => {
      plan.forEach((index, p) => {
        if (String(reel.palettes[reel.paletteOf[f]][index]) === String(most)) count += reel.durations[f][p];
      });
    });
    expect(count / (60 * 40 * 6)).toBeCloseTo(Math.max(...shares), 9);
  });
});

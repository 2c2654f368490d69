import { describe, expect, it } from 'vitest';
import { createFrame, createResizer, type PixelFrame } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import {
  type ActivitySeries,
  calmAt,
  calmestSpan,
  measureActivity,
  SIGNATURE_BYTES,
  SIGNATURE_SIZE,
  spanToRest,
  writeSignature,
} from './index.js';

const FRAME = { width: 640, height: 360 };

/**
 * A textured landscape seen by a camera that has moved by whole and part pixels, in some light, with a ball
 * in it.
 */
function look(
  shiftX: number,
  shiftY: number,
  light: number,
  ball: number | null,
  grain: () => number,
): PixelFrame {
  const frame = createFrame(FRAME.width, FRAME.height);
  for (let y = 0, at = 0; y < FRAME.height; y++) {
    for (let x = 0; x < FRAME.width; x++, at += 4) {
      const u = x - shiftX;
      const v = y - shiftY;
      let level = 120 + 45 * Math.sin(u / 37 + Math.cos(v / 51)) + 40 * Math.cos(v / 29 + u / 83) + light;
      if (ball !== null && Math.hypot(x - ball, y - 180) < 50) level = 235;
      const noisy = level + (grain() - 0.5) * 12;
      frame.rgba[at] =
        frame.rgba[at + 1] =
        frame.rgba[at + 2] =
          Math.max(0, Math.min(255, Math.round(noisy)));
      frame.rgba[at + 3] = 255;
    }
  }
  return frame;
}

const resizer = createResizer(FRAME, SIGNATURE_SIZE);
function signature(frame: PixelFrame): Uint8Array {
  const out = new Uint8Array(SIGNATURE_BYTES);
  writeSignature(resizer.resize(frame).rgba, out);
  return out;
}

describe('what happened between two frames', () => {
  it.each([
    [0, 0, 0],
    [1.2, 0, 0],
    [0, -0.8, 0],
    [2.5, 1.5, 3],
    [-0.4, 0.3, -6],
  ])('camera (%f, %f) and light %f are told apart, under grain (seed 3)', (dx, dy, light) => {
    const grain = seeded(3);
    const activity = measureActivity(
      signature(look(10, 10, 0, null, grain)),
      signature(look(10 + dx, 10 + dy, light, null, grain)),
      FRAME,
    );
    expect(Math.abs(activity.shiftX - dx)).toBeLessThan(0.25);
    expect(Math.abs(activity.shiftY - dy)).toBeLessThan(0.25);
    expect(Math.abs(activity.light - light)).toBeLessThan(0.5);
    expect(activity.moves).toBeLessThan(0.15);
  });

  it('something that moves is found, and pulls neither at camera nor at light (seed 8)', () => {
    const grain = seeded(8);
    const still = measureActivity(
      signature(look(5, 5, 0, 300, grain)),
      signature(look(5, 5, 0, 300, grain)),
      FRAME,
    );
    const moving = measureActivity(
      signature(look(5, 5, 0, 300, grain)),
      signature(look(5.6, 5, 1, 330, grain)),
      FRAME,
    );
    expect(still.moves).toBeLessThan(0.1);
    expect(moving.moves).toBeGreaterThan(1);
    expect(Math.abs(moving.shiftX - 0.6)).toBeLessThan(0.25);
    expect(Math.abs(moving.light - 1)).toBeLessThan(0.5);
  });

  it('a flat picture is at rest', () => {
    const flat = new Uint8Array(SIGNATURE_BYTES).fill(90);
    expect(measureActivity(flat, flat, FRAME)).toEqual({ moves: 0, shiftX: 0, shiftY: 0, light: 0 });
    expect(() => writeSignature(new Uint8Array(8), flat)).toThrow('9216 bytes');
  });

  it('a signature keeps colours in its chroma', () => {
    const red = createFrame(64, 36);
    for (let at = 0; at < red.rgba.length; at += 4) red.rgba.set([255, 0, 0, 255], at);
    const out = new Uint8Array(SIGNATURE_BYTES);
    writeSignature(red.rgba, out);
    expect([out[0], out[2304], out[2304 + 144]]).toEqual([76, 85, 255]);
  });
});

/** A take whose camera is restless but for one stretch, and where something moves at times. */
function take(
  frames: number,
  calmFrom: number,
  calmTo: number,
  moving: readonly [number, number][],
): ActivitySeries {
  const random = seeded(5);
  const wander = () => (random() - 0.5) * 3;
  const restless = (f: number) => f < calmFrom || f >= calmTo;
  const series = Array.from({ length: frames }, (_, f) => (restless(f) ? wander() : (random() - 0.5) * 0.05));
  return {
    shiftX: series,
    shiftY: series.map((value) => -value),
    light: series.map(() => 0),
    moves: series.map((_, f) => (moving.some(([a, b]) => f >= a && f < b) ? 3 + random() : 0.05 * random())),
  };
}

describe('the calmest stretch', () => {
  const series = take(300, 120, 200, []);

  it('lies where camera and light are still (seed 5)', () => {
    const span = calmestSpan(series, 70);
    expect(span?.start).toBeGreaterThanOrEqual(119);
    expect(span?.end).toBeLessThanOrEqual(200);
    expect(calmAt(series, 160)).toBeGreaterThan(95);
    expect(calmAt(series, 40)).toBeLessThan(50);
  });

  it('is the best of all by trying every one (seed 5)', () => {
    const positions = [0];
    for (let f = 1; f < 300; f++) positions.push(positions[f - 1] + series.shiftX[f]);
    const spread = (start: number) => {
      const part = positions.slice(start, start + 70);
      const mean = part.reduce((a, b) => a + b) / 70;
      return part.reduce((sum, p) => sum + (p - mean) ** 2, 0);
    };
    const best = Array.from({ length: 231 }, (_, start) => spread(start));
    expect(spread(calmestSpan(series, 70)?.start ?? 0)).toBeCloseTo(Math.min(...best), 6);
  });

  it('holds the frame that was asked for, inside the take', () => {
    for (const frame of [0, 30, 299]) {
      const span = calmestSpan(series, 50, frame);
      expect(span && span.start <= frame && frame < span.end && span.start >= 0 && span.end <= 300).toBe(
        true,
      );
    }
    expect(calmestSpan(series, 301)).toBeNull();
    expect(calmestSpan(series, 300)).toEqual({ start: 0, end: 300 });
  });
});

describe('from here to the end of what moves', () => {
  const series = take(200, 0, 200, [
    [20, 60],
    [62, 90],
    [150, 200],
  ]);
  it('ends where it rests, over short pauses, and starts with the next movement', () => {
    expect(spanToRest(series, 30, 8)).toEqual({ start: 30, end: 90 });
    expect(spanToRest(series, 5, 8)).toEqual({ start: 5, end: 90 });
    expect(spanToRest(series, 100, 8)).toEqual({ start: 100, end: 200 });
  });
});

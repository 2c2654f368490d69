import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { decodeFrames, probeHere } from '../src/media/index.js';

const FOLDER = fileURLToPath(new URL('../../../demo/footage/', import.meta.url));
const SIZE = { width: 160, height: 90 };

interface Truth {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly framesPerSecond: number;
  readonly frames: number;
  readonly movers: { name: string; periodFrames: number | null }[];
  readonly movesMask: string;
  readonly camera: { path: [number, number, number][] };
  readonly lightGain: number[];
}

const truthOf = (name: string) =>
  JSON.parse(readFileSync(join(FOLDER, `${name}.truth.json`), 'utf8')) as Truth;

async function lumas(truth: Truth, frames: number[]): Promise<Float64Array[]> {
  const path = join(FOLDER, truth.file);
  const facts = await probeHere(path, truth.file);
  const found: Float64Array[] = [];
  for await (const { data } of decodeFrames({
    path,
    name: truth.file,
    facts,
    frames,
    size: SIZE,
    format: 'rgba',
  })) {
    found.push(
      Float64Array.from(
        { length: SIZE.width * SIZE.height },
        (_, p) => 0.3 * data[p * 4] + 0.6 * data[p * 4 + 1] + 0.1 * data[p * 4 + 2],
      ),
    );
  }
  return found;
}

/** Mean difference of two frames over the places of a mask. */
function apart(a: Float64Array, b: Float64Array, places: readonly number[]): number {
  return places.reduce((sum, p) => sum + Math.abs(a[p] - b[p]), 0) / places.length;
}

async function maskPlaces(truth: Truth, wanted: boolean): Promise<number[]> {
  const { data, info } = await sharp(join(FOLDER, truth.movesMask))
    .resize(SIZE.width, SIZE.height, { kernel: 'nearest' })
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  const all = Array.from({ length: SIZE.width * SIZE.height }, (_, p) => p);
  return all.filter((p) => data[p * info.channels] > 127 === wanted);
}

describe('the demo footage is what its truth says', () => {
  it.each(['lantern', 'kettle', 'koi'])(
    '%s: size, rate, frames, weight, and a value for every frame',
    async (name) => {
      const truth = truthOf(name);
      const path = join(FOLDER, truth.file);
      const facts = await probeHere(path, truth.file);
      expect([facts.width, facts.height, facts.ticks.length]).toEqual([
        truth.width,
        truth.height,
        truth.frames,
      ]);
      const seconds = (facts.durationTicks * facts.timeBase[0]) / facts.timeBase[1];
      expect(truth.frames / seconds).toBeCloseTo(truth.framesPerSecond, 1);
      expect(statSync(path).size).toBeLessThan(3_000_000);
      expect(truth.camera.path).toHaveLength(truth.frames);
      expect(truth.lightGain).toHaveLength(truth.frames);
      const shake = Math.hypot(...truth.camera.path.map(([x]) => x)) / Math.sqrt(truth.frames);
      expect(shake).toBeGreaterThan(0.1);
      expect(shake).toBeLessThan(3);
    },
  );

  it.each(['lantern', 'koi'])('%s: after its period it looks alike, half-way it does not', async (name) => {
    const truth = truthOf(name);
    const period = truth.movers[0].periodFrames ?? 0;
    const [start, half, whole] = await lumas(truth, [
      20,
      20 + Math.round(period / 2),
      20 + Math.round(period),
    ]);
    const moving = await maskPlaces(truth, true);
    expect(apart(start, whole, moving)).toBeLessThan(apart(start, half, moving) * 0.6);
  });

  it('kettle: the mask is where it moves', async () => {
    const truth = truthOf('kettle');
    const frames = await lumas(truth, [30, 60, 90, 120, 150, 180]);
    const change = (places: readonly number[]) =>
      frames.slice(1).reduce((sum, frame, i) => sum + apart(frames[i], frame, places), 0);
    expect(change(await maskPlaces(truth, true))).toBeGreaterThan(
      change(await maskPlaces(truth, false)) * 1.5,
    );
  });
});

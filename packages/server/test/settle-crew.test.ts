import { createFrame } from '@muted-pond/core/pixels';
import { settle } from '@muted-pond/core/settle';
import { describe, expect, it } from 'vitest';
import { copyOf, movingBall } from '../../core/src/testing/pictures.js';
import { callCrew, DONE, NEXT, takeStrips } from '../src/making/settle-crew.js';

describe('settling with several threads', () => {
  it('gives the same bytes as one thread, time after time', () => {
    const crew = callCrew();
    const frames = movingBall(200, 330, 10, { seed: 2, grain: 6 });
    const alone = settle(copyOf(frames), 3);
    for (let turn = 0; turn < 4; turn++) {
      const shared = frames.map(({ width, height, rgba }) => {
        const bytes = new Uint8Array(crew.allocate(rgba.length));
        bytes.set(rgba);
        return createFrame(width, height, bytes);
      });
      const together = settle(shared, 3, crew);
      alone.frames.forEach((frame, f) => {
        expect(Buffer.compare(together.frames[f].rgba, frame.rgba), `turn ${turn}, frame ${f}`).toBe(0);
        expect(together.durations[f]).toEqual(alone.durations[f]);
      });
    }
  });

  it('takes each strip once, and counts those that are done', () => {
    const frames = movingBall(40, 100, 3);
    const durations = frames.map(() => new Uint16Array(40 * 100));
    const masking = new Float32Array(40 * 100).fill(1);
    const work = { frames, durations, masking, width: 40, height: 100, mostRows: 32, price: 4 };
    const counters = new Int32Array(new SharedArrayBuffer(8));
    takeStrips({ work, strips: 4, counters });
    expect(Atomics.load(counters, DONE)).toBe(4);
    expect(Atomics.load(counters, NEXT)).toBeGreaterThanOrEqual(4);
    expect(durations[0].every((length) => length > 0)).toBe(true);
    takeStrips({ work, strips: 4, counters });
    expect(Atomics.load(counters, DONE)).toBe(4);
  });
});

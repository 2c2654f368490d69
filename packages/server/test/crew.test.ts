import { playGif, readGif } from '@muted-pond/core/gif';
import { DEFAULT_WEIGH } from '@muted-pond/core/recipe';
import { copyForCrew, renderGif } from '@muted-pond/core/render';
import { settle } from '@muted-pond/core/settle';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { describe, expect, it } from 'vitest';
import { copyOf, movingBall } from '../../core/src/testing/pictures.js';
import { callCrew, DONE, NEXT, takeParts } from '../src/making/crew.js';

describe('settling with several threads', () => {
  it('gives the same bytes as one thread, time after time', () => {
    const crew = callCrew();
    const frames = movingBall(200, 330, 10, { seed: 2, grain: 6 });
    const alone = settle(copyOf(frames), 3);
    for (let turn = 0; turn < 4; turn++) {
      const shared = frames.map((frame) => copyForCrew(frame, crew));
      const together = settle(shared, 3, crew);
      alone.frames.forEach((frame, f) => {
        expect(Buffer.compare(together.frames[f].rgba, frame.rgba), `turn ${turn}, frame ${f}`).toBe(0);
        expect(together.durations[f]).toEqual(alone.durations[f]);
      });
    }
  });

  it('lays colours and compares as one thread does', () => {
    const crew = callCrew();
    const frames = movingBall(120, 90, 7, { seed: 4, grain: 8 });
    const weigh = { ...DEFAULT_WEIGH, palette: 'frame' as const };
    const reel = frames.map((_, source) => ({ source, delayCs: 8 }));
    const alone = renderGif(copyOf(frames), { reel, settings: weigh, plays: 0 });
    const shared = frames.map((frame) => copyForCrew(frame, crew));
    const together = renderGif(shared, { reel, settings: weigh, plays: 0, crew });
    expect(Buffer.compare(together.bytes, alone.bytes)).toBe(0);
    const scores = [undefined, crew].map((who) => {
      const meter = createSimilarityMeter(who);
      let f = 0;
      for (const picture of playGif(
        readGif(alone.bytes),
        reel.map(({ delayCs }) => delayCs),
      )) {
        meter.add(frames[f++], picture);
      }
      return meter.result();
    });
    expect(scores[0]).toBe(scores[1]);
    expect(scores[0]).toBeGreaterThan(0.8);
  });

  it('takes each part once, and counts those that are done', () => {
    const frames = movingBall(40, 100, 3);
    const durations = frames.map(() => new Uint16Array(40 * 100));
    const masking = new Float32Array(40 * 100).fill(1);
    const work = {
      kind: 'settle' as const,
      frames,
      durations,
      masking,
      width: 40,
      height: 100,
      mostRows: 32,
      price: 4,
    };
    const counters = new Int32Array(new SharedArrayBuffer(8));
    takeParts({ work, parts: 4, counters });
    expect(Atomics.load(counters, DONE)).toBe(4);
    expect(Atomics.load(counters, NEXT)).toBeGreaterThanOrEqual(4);
    expect(durations[0].every((length) => length > 0)).toBe(true);
    takeParts({ work, parts: 4, counters });
    expect(Atomics.load(counters, DONE)).toBe(4);
  });
});

import { DEFAULT_GIF, renderGif } from '@muted-pond/core/files';
import { playGif, readGif } from '@muted-pond/core/gif';
import type { ParallelWork } from '@muted-pond/core/parallel';
import { copyToShared, type ThreadPool } from '@muted-pond/core/pixels';
import { settle } from '@muted-pond/core/settle';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { describe, expect, it } from 'vitest';
import { copyOf, movingBall } from '../../core/src/testing/pictures.js';
import { CORES, coresForThisJob, shareCoresWith } from '../src/threads/cores.js';
import {
  COLLECT,
  COMPLAINT,
  DONE,
  helpersOfThisJob,
  helperThreads,
  NEXT,
  newMessage,
  runTogether,
  startHelpers,
  takeParts,
} from '../src/threads/helper-threads.js';

describe('settling with several threads', () => {
  it('gives the same bytes as one thread, time after time', () => {
    const threads = helperThreads();
    const frames = movingBall(200, 330, 10, { seed: 2, grain: 6 });
    const alone = settle(copyOf(frames), 3);
    for (let turn = 0; turn < 4; turn++) {
      const shared = frames.map((frame) => copyToShared(frame, threads));
      const together = settle(shared, 3, { threads });
      alone.frames.forEach((frame, f) => {
        expect(Buffer.compare(together.frames[f].rgba, frame.rgba), `turn ${turn}, frame ${f}`).toBe(0);
        expect(together.durations[f]).toEqual(alone.durations[f]);
      });
    }
  });

  it('lays colours and compares as one thread does', () => {
    const threads = helperThreads();
    const frames = movingBall(120, 90, 7, { seed: 4, grain: 8 });
    const settings = { ...DEFAULT_GIF, palette: 'frame' as const };
    const reel = frames.map((_, source) => ({ source, delayCs: 8 }));
    const alone = renderGif(copyOf(frames), { reel, settings, plays: 0 });
    const shared = frames.map((frame) => copyToShared(frame, threads));
    const together = renderGif(shared, { reel, settings, plays: 0, threads });
    expect(Buffer.compare(together.bytes, alone.bytes)).toBe(0);
    const scores = [undefined, threads].map((who) => {
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

  it('writes the same file with one thread, two, three and four', async () => {
    const frames = movingBall(140, 110, 40, { seed: 9, grain: 5 });
    const reel = frames.map((_, source) => ({ source, delayCs: 8 }));
    const settings = { ...DEFAULT_GIF, dither: 'none' as const };
    const { bytes: alone } = renderGif(copyOf(frames), { reel, settings, plays: 0 });
    for (const count of [2, 3, 4]) {
      const helpers = await readyHands(count - 1);
      let [parts, own] = [0, 0];
      const threads: ThreadPool = {
        allocate: (bytes) => new SharedArrayBuffer(bytes),
        run(job, all, start) {
          const doPart = start(job);
          parts += all;
          const counted = (part: number) => {
            own++;
            doPart(part);
          };
          runTogether(newMessage(job as unknown as ParallelWork, all), counted, helpers);
        },
      };
      const shared = frames.map((frame) => copyToShared(frame, threads));
      const { bytes } = renderGif(shared, { reel, settings, plays: 0, threads });
      expect(Buffer.compare(bytes, alone), `${count} threads`).toBe(0);
      // The others did their part.
      expect(own).toBeLessThan(parts);
      await Promise.all(helpers.map((helper) => helper.terminate()));
    }
  });

  it('takes each part once, and counts those that are done', () => {
    const { work, durations } = settling();
    const message = newMessage(work, 4);
    takeParts(message);
    expect(Atomics.load(message.counters, DONE)).toBe(4);
    expect(Atomics.load(message.counters, NEXT)).toBeGreaterThanOrEqual(4);
    expect(durations[0].every((length) => length > 0)).toBe(true);
    takeParts(message);
    expect(Atomics.load(message.counters, DONE)).toBe(4);
  });
});

describe('the cores of a machine', () => {
  it('are shared between the jobs that run: one for each at least, all of them for one alone', () => {
    const running = new Int32Array(new SharedArrayBuffer(4));
    shareCoresWith(running);
    for (const [jobs, cores] of [
      [0, CORES],
      [1, CORES],
      [2, Math.max(1, Math.floor(CORES / 2))],
      [CORES * 3, 1],
    ]) {
      Atomics.store(running, 0, jobs);
      expect(coresForThisJob(), `${jobs} jobs`).toBe(cores);
    }
    Atomics.store(running, 0, 1);
  });

  it('give each job one helper less than its cores, and start no more than that', () => {
    const running = new Int32Array(new SharedArrayBuffer(4));
    shareCoresWith(running);
    Atomics.store(running, 0, CORES);
    expect(helpersOfThisJob()).toEqual([]);
    Atomics.store(running, 0, 1);
    const alone = helpersOfThisJob();
    expect(alone).toHaveLength(CORES - 1);
    expect(helpersOfThisJob()).toEqual(alone);
  });
});

describe('helper threads', () => {
  it.each([1, 2, 3])('of %i others, they alone do all the work, and as one thread does it', async (count) => {
    const others = await readyHands(count);
    const alone = settling();
    takeParts(newMessage(alone.work, 4));
    const shared = settling();
    const message = newMessage(shared.work, 4);
    // This thread does none of it.
    for (const helper of others) helper.postMessage(message);
    await expect.poll(() => Atomics.load(message.counters, DONE), { timeout: 30_000 }).toBe(4);
    expect(Atomics.load(message.counters, COMPLAINT)).toBe(0);
    shared.work.frames.forEach((frame, f) => {
      expect(Buffer.compare(frame.rgba, alone.work.frames[f].rgba)).toBe(0);
      expect(shared.durations[f]).toEqual(alone.durations[f]);
    });
    await Promise.all(others.map((helper) => helper.terminate()));
  });

  it('a part that another thread cannot do ends the work at once, with its reason', async () => {
    const others = await readyHands(1);
    const { work } = settling();
    const message = newMessage({ ...work, frames: null as unknown as typeof work.frames }, 8);
    const began = performance.now();
    const waitForTheOther = () => {
      while (Atomics.load(message.counters, COMPLAINT) === 0)
        Atomics.wait(message.counters, COMPLAINT, 0, 100);
    };
    expect(() => runTogether(message, waitForTheOther, others)).toThrow(/TypeError/);
    expect(performance.now() - began).toBeLessThan(30_000);
    await Promise.all(others.map((helper) => helper.terminate()));
  });

  it('a helper that was told to give back what it let go of goes on helping', async () => {
    const [helper] = await readyHands(1);
    for (let turn = 0; turn < 3; turn++) {
      const { work, durations } = settling();
      const message = newMessage(work, 4);
      helper.postMessage(message);
      const { counters } = message;
      for (let done = 0; done < 4; done = Atomics.load(counters, DONE)) {
        expect(Atomics.wait(counters, DONE, done, 30_000)).not.toBe('timed-out');
      }
      expect(Atomics.load(counters, COMPLAINT)).toBe(0);
      expect(durations[0].every((length) => length > 0)).toBe(true);
      helper.postMessage(COLLECT);
    }
    await helper.terminate();
  });

  it('a part that this thread cannot do is told as well, and the others are waited for', () => {
    const message = newMessage(settling().work, 3);
    const done: number[] = [];
    const doPart = (part: number) => {
      if (part === 1) throw new RangeError('Part 1 cannot be done.');
      done.push(part);
    };
    expect(() => runTogether(message, doPart, [])).toThrow('Part 1 cannot be done.');
    expect(done).toEqual([0]);
    expect(Atomics.load(message.counters, DONE)).toBe(3);
  });
});

/** Work on memory that all threads see. */
function settling() {
  const shared = <T extends Uint8Array | Uint16Array | Float32Array>(
    kind: new (buffer: SharedArrayBuffer) => T,
    bytes: number,
  ) => new kind(new SharedArrayBuffer(bytes));
  const frames = movingBall(40, 100, 3).map((frame) => {
    const rgba = shared(Uint8Array, frame.rgba.length);
    rgba.set(frame.rgba);
    return { ...frame, rgba };
  });
  const durations = frames.map(() => shared(Uint16Array, 40 * 100 * 2));
  const masking = shared(Float32Array, 40 * 100 * 4).fill(1);
  const costs = {
    neighbours: new Array<number>(9).fill(1),
    still: 1,
    stillLevels: 1,
    discount: 0,
    least: 1,
    candidates: [0.4, 0.4, 0.4, 0.4],
  };
  const settle = { kind: 'settle' as const, width: 40, height: 100, mostRows: 32, price: 4, costs };
  return { work: { ...settle, frames, durations, masking }, durations };
}

async function readyHands(count: number) {
  let ready = () => {};
  const all = new Promise<void>((resolve) => {
    let left = count;
    ready = () => {
      if (--left === 0) resolve();
    };
  });
  const helpers = startHelpers(count, ready);
  const failed = new Promise<never>((_, reject) => {
    for (const helper of helpers) helper.once('error', reject);
  });
  await Promise.race([all, failed]);
  return helpers;
}

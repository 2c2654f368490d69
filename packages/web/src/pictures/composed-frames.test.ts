import { describe, expect, it } from 'vitest';
import { isClosed, openBitmap, openComposed, planOf } from '../testing/scripted-composer.js';
import type { ComposeReply } from '../workers/composed-pictures.js';

const open = openComposed;
const bitmap = { width: 10, height: 10, close() {} } as ImageBitmap;
const composed = (plan: number, place: number): ComposeReply => ({
  ...{ type: 'composed', plan, place },
  pictures: { frame: bitmap, blocks: [], layers: null },
});

describe('composed frames', () => {
  it('are asked for once, and kept', async () => {
    const { frames, workers } = open();
    const plan = planOf();
    const [one, two] = [frames.load(plan, 2), frames.load(plan, 2)];
    expect(workers[0].shown).toEqual([2]);
    expect(frames.get(plan, 2)).toBeNull();
    workers[0].reply(composed(1, 2));
    expect(await one).toBe(await two);
    expect(frames.get(plan, 2)).not.toBeNull();
    await frames.load(plan, 2);
    expect(workers[0].shown).toEqual([2]);
  });

  describe('close their bitmaps', () => {
    const reply = (plan: number, place: number, frame: ImageBitmap): ComposeReply => ({
      ...{ type: 'composed', plan, place },
      pictures: { frame, blocks: [], layers: null },
    });

    it('when another plan takes their place, but those that are still shown', async () => {
      const { frames, workers } = open();
      const [first, second] = [planOf(), planOf()];
      const [shown, other] = [openBitmap(), openBitmap()];
      const waiting = [frames.load(first, 0), frames.load(first, 1)];
      workers[0].reply(reply(1, 0, shown));
      workers[0].reply(reply(1, 1, other));
      const [pictures] = await Promise.all(waiting);
      const end = frames.lease(pictures, null);
      frames.load(second, 0).catch(() => {});
      expect([isClosed(shown), isClosed(other)]).toEqual([false, true]);
      end?.();
      end?.();
      expect(isClosed(shown)).toBe(true);
      expect(frames.lease(pictures, null)).toBeNull();
    });

    it('when they come too late, with what is held and the looks of an earlier plan', () => {
      const { frames, workers } = open();
      const [first, second] = [planOf(), planOf()];
      frames.load(first, 0).catch(() => {});
      frames.load(second, 0).catch(() => {});
      const [late, plate, mask, look] = [openBitmap(), openBitmap(), openBitmap(), openBitmap()];
      workers[0].reply(reply(1, 0, late));
      workers[0].reply({ type: 'held', plan: 1, held: { plate, masks: [mask] } });
      workers[0].reply({ type: 'looks', plan: 1, place: 0, looks: { none: look } as never });
      expect([late, plate, mask, look].every(isClosed)).toBe(true);
    });

    it('of a drag of a thousand plans, all but the last ones (as many as are shown)', async () => {
      const { frames, workers } = open();
      const made: ImageBitmap[] = [];
      let end: (() => void) | null = null;
      for (let plan = 1; plan <= 1000; plan++) {
        const loading = frames.load(planOf(), 0);
        made.push(openBitmap());
        workers[0].reply(reply(plan, 0, made[made.length - 1]));
        const next = frames.lease(await loading, null);
        end?.();
        end = next;
      }
      expect(made.filter((one) => !isClosed(one))).toEqual([made[999]]);
      frames.end();
      expect(isClosed(made[999])).toBe(false);
      end?.();
      expect(made.every(isClosed)).toBe(true);
    });
  });

  it('of an earlier plan never stand for those of a later one', async () => {
    const { frames, workers } = open();
    const [first, second] = [planOf(), planOf()];
    const late = frames.load(first, 0);
    const wanted = frames.load(second, 0);
    await expect(late).rejects.toThrow('Something else');
    workers[0].reply(composed(1, 0));
    expect(frames.get(second, 0)).toBeNull();
    workers[0].reply(composed(2, 0));
    expect((await wanted).frame).toBe(bitmap);
    expect(frames.get(first, 0)).toBeNull();
  });

  it('that cannot be made are not asked for again under the same plan', async () => {
    const { frames, workers } = open();
    const plan = planOf();
    const failing = frames.load(plan, 1);
    workers[0].reply({ type: 'failed', plan: 1, place: 1, problem: 'The paint is gone.' });
    await expect(failing).rejects.toThrow('The paint is gone.');
    await expect(frames.load(plan, 1)).rejects.toThrow('The paint is gone.');
    expect(workers[0].shown).toEqual([1]);
    void frames.load(planOf(), 1);
    expect(workers[0].shown).toEqual([1, 1]);
  });

  it('outlive a worker that crashes, but not for ever', async () => {
    const { frames, workers } = open();
    const plan = planOf();
    const wanted = frames.load(plan, 0);
    workers[0].crash();
    expect(workers[1].heard.map(({ type }) => type)).toEqual(['plan', 'show']);
    expect(workers[0].ended).toBe(true);
    workers[1].reply(composed(1, 0));
    await wanted;
    const doomed = frames.load(plan, 1);
    for (let i = 1; i < 4; i++) workers[i]?.crash();
    await expect(doomed).rejects.toThrow('again and again');
    await expect(frames.load(plan, 2)).rejects.toThrow('again and again');
    expect(workers).toHaveLength(4);
  });

  it('end with their worker', async () => {
    const { frames, workers } = open();
    const wanted = frames.load(planOf(), 0);
    frames.end();
    expect(workers[0].ended).toBe(true);
    await expect(wanted).rejects.toThrow();
  });
});

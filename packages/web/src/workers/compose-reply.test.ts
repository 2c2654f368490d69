import type { PixelFrame } from '@muted-pond/core/pixels';
import { createFrame } from '@muted-pond/core/pixels';
import { expect, it } from 'vitest';
import { toReply } from './compose-reply.js';
import type { ComposeAnswer } from './compose-work.js';

const frame = (width: number): PixelFrame => createFrame(width, 2);

/** Bitmaps that say which pixels they were made of. */
function bitmaps() {
  const made: PixelFrame[] = [];
  const toBitmap = async (one: PixelFrame) => {
    made.push(one);
    return { width: one.width, close() {} } as ImageBitmap;
  };
  return { made, toBitmap };
}

it('the same pixels become one bitmap, which goes over once', async () => {
  const { made, toBitmap } = bitmaps();
  const [shown, moving] = [frame(4), frame(6)];
  const layers = { whole: shown, moving: [moving, shown] };
  const answer: ComposeAnswer = { type: 'composed', plan: 1, place: 3, frame: shown, blocks: [], layers };
  const [reply, transfer] = await toReply(answer, toBitmap);
  expect(made).toEqual([shown, moving]);
  expect(transfer).toHaveLength(2);
  if (reply.type !== 'composed') throw new Error('Another reply than asked for.');
  expect(reply.pictures.layers?.whole).toBe(reply.pictures.frame);
  expect(reply.pictures.layers?.moving.map(({ width }) => width)).toEqual([6, 4]);
});

it('masks become white, as much there as it moves', async () => {
  const { made, toBitmap } = bitmaps();
  const mask = { width: 2, height: 1, values: Uint8Array.of(0, 200) };
  const answer: ComposeAnswer = { type: 'held', plan: 1, held: { picture: frame(2), masks: [mask] } };
  const [reply, transfer] = await toReply(answer, toBitmap);
  expect([...made[1].rgba]).toEqual([255, 255, 255, 0, 255, 255, 255, 200]);
  expect(reply.type === 'held' && reply.held.masks).toHaveLength(1);
  expect(transfer).toHaveLength(2);
});

it('each look keeps its name, and a failure goes as it is', async () => {
  const { toBitmap } = bitmaps();
  const looks = { none: frame(3), 'wet-slate': frame(5) } as never;
  const [reply, transfer] = await toReply({ type: 'looks', plan: 2, place: 0, looks }, toBitmap);
  if (reply.type !== 'looks') throw new Error('Another reply than asked for.');
  expect([reply.looks.none.width, reply.looks['wet-slate'].width]).toEqual([3, 5]);
  expect(transfer).toHaveLength(2);
  const failed: ComposeAnswer = { type: 'failed', plan: 2, place: 0, problem: 'No.' };
  expect(await toReply(failed, toBitmap)).toEqual([failed, []]);
});

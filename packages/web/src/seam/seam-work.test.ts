import { UserError } from '@muted-pond/core/errors';
import { joinOf, lookBytes } from '@muted-pond/core/loop';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '@muted-pond/core/motion';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { NOTHING_HELD } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import {
  ALL_MOVES,
  createSeamWork,
  type MovingPlaces,
  type SeamFound,
  type SeamMessage,
  type SeamQuestion,
  type SeamReply,
} from './seam-work.js';

const FRAMES = 120;
const PERIOD = 40;
const times = { starts: Array.from({ length: FRAMES }, (_, i) => i / 20), duration: FRAMES / 20 };

/** A light that goes round on ground with some pattern, at a place of the picture in shares of it. */
function level(frame: number, u: number, v: number): number {
  const turn = (2 * Math.PI * frame) / PERIOD;
  const [x, y] = [u * 64, v * 36];
  const near = Math.hypot(x - 32 - 12 * Math.cos(turn), y - 18 - 9 * Math.sin(turn)) < 5;
  return near ? 230 : 90 + 30 * Math.sin(x / 4) + 20 * Math.cos(y / 3);
}

/** From `cut` on it is night. */
const levelAt = (cut: number) => (frame: number, u: number, v: number) =>
  level(frame, u, v) * (frame < cut ? 1 : 0.25);

function signaturesOf(seen: typeof level): Uint8Array {
  const signatures = new Uint8Array(FRAMES * SIGNATURE_BYTES).fill(128);
  const { width, height } = SIGNATURE_SIZE;
  for (let frame = 0; frame < FRAMES; frame++) {
    for (let p = 0; p < width * height; p++) {
      const [u, v] = [((p % width) + 0.5) / width, (Math.floor(p / width) + 0.5) / height];
      signatures[frame * SIGNATURE_BYTES + p] = seen(frame, u, v);
    }
  }
  return signatures;
}

const LOOK = { width: 160, height: 90 };

function lookAt(seen: typeof level, frame: number): Uint8Array {
  const bytes = new Uint8Array(lookBytes(LOOK)).fill(128);
  for (let p = 0; p < LOOK.width * LOOK.height; p++) {
    bytes[p] = seen(
      frame,
      ((p % LOOK.width) + 0.5) / LOOK.width,
      (Math.floor(p / LOOK.width) + 0.5) / LOOK.height,
    );
  }
  return bytes;
}

function worker(seen = level) {
  let clock = 0;
  let isGone = false;
  const read: [number, number][] = [];
  const work = createSeamWork(
    () => clock++,
    () => async (from, to) => {
      if (isGone) throw new UserError('unreachable', 'The server does not answer.');
      read.push([from, to]);
      const looks = Array.from({ length: to - from }, (_, i) => lookAt(seen, from + i));
      return Uint8Array.from(looks.flatMap((look) => [...look]));
    },
  );
  const tell = async (message: SeamMessage) => {
    const replies: SeamReply[] = [];
    await work(message, (reply) => replies.push(reply));
    return replies;
  };
  const footage = tell({
    ...{ type: 'footage', footage: 'a', signatures: signaturesOf(seen), times },
    ...{ window: { start: 0, end: FRAMES }, size: { width: 640, height: 360 } },
  });
  let id = 0;
  const ask = async (part: Partial<SeamQuestion>) => {
    await footage;
    return tell({
      ...{ type: 'question', id: ++id, recipe: recipeOf(10, 45), within: 'anywhere' },
      ...{ length: { min: 1, max: 4 }, moving: ALL_MOVES, ...part },
    });
  };
  /** All that is answered: the last of what would be better. */
  const look = async (part: Partial<SeamQuestion>) => {
    const replies = await ask(part);
    const found = replies.find((reply) => reply.type === 'found');
    const measured = replies.find((reply) => reply.type === 'measured');
    const better = replies.findLast((reply) => reply.type === 'better');
    return { replies, found: found?.found as SeamFound, ...measured?.measured, ...better?.better };
  };
  return {
    ...{ tell, ask, look, read, footage },
    goAway: () => {
      isGone = true;
    },
  };
}

function recipeOf(start: number, end: number, part: Partial<Recipe['loop']> = {}): Recipe {
  const recipe = newRecipe('a'.repeat(64), times);
  return {
    ...recipe,
    span: { start, end },
    loop: { ...recipe.loop, ...part },
    weigh: { ...recipe.weigh, frameRate: 20 },
  };
}

describe('the seam worker', () => {
  it('answers nothing before it has footage', async () => {
    const work = createSeamWork(
      () => 0,
      () => async () => new Uint8Array(),
    );
    const replies: SeamReply[] = [];
    await work(
      {
        ...{ type: 'question', id: 1, recipe: recipeOf(0, 9), within: 'span' },
        ...{ moving: ALL_MOVES, length: { min: 1, max: 2 } },
      },
      (reply) => replies.push(reply),
    );
    expect(replies).toEqual([]);
  });

  it('finds the loop, anywhere and inside the span, and measures the reel as it stands', async () => {
    const { look } = worker();
    const { replies, found, candidates, seam } = await look({});
    expect(replies.slice(0, 3).map(({ type }) => type)).toEqual(['found', 'measured', 'better']);
    const [best] = found.candidates;
    expect((best.end - best.start) % PERIOD).toBe(0);
    expect(found.candidates.every(({ isMeasured }) => !isMeasured)).toBe(true);
    expect(candidates?.every(({ isMeasured }) => isMeasured)).toBe(true);
    expect(Math.max(...(candidates ?? []).map(({ score }) => score))).toBeGreaterThan(95);
    expect(
      (await look({ within: 'span' })).found.candidates.every(({ start, end }) => start >= 10 && end <= 45),
    ).toBe(true);
    expect(seam?.score).toBeLessThan(60);
    const taken = await look({ recipe: recipeOf(best.start, best.end) });
    expect(taken.seam?.score).toBeGreaterThan(95);
    // What was measured is known at once.
    expect(taken.found.candidates.every(({ isMeasured }) => isMeasured)).toBe(true);
  });

  it('advises a join that is seen less, and never takes a light seen twice for a good one', async () => {
    const { look } = worker();
    expect((await look({ recipe: recipeOf(30, 70) })).advice).toMatchObject({ reason: 'meets' });
    const { advice } = await look({ recipe: recipeOf(40, 60) });
    expect(advice?.reason).toBe('best-there-is');
    const melted = await look({ recipe: recipeOf(40, 60, { join: { kind: 'crossfade', frames: 8 } }) });
    expect(melted.seam).toMatchObject({ fault: 'ghost' });
    expect(melted.seam?.score).toBeLessThan(60);
  });

  it('searches again only when what it searched has changed, and reads looks once', async () => {
    const { look, read } = worker();
    const places = ({ found }: { found: SeamFound }) =>
      found.candidates.map(({ start, end }) => [start, end]);
    const first = await look({});
    const readFirst = read.length;
    const moved = await look({ recipe: recipeOf(20, 60) });
    expect(places(moved)).toEqual(places(first));
    expect(moved.found.searchMs).toBeLessThan(first.found.searchMs + 1);
    expect(read.length).toBe(readFirst);
    expect(places(await look({ length: { min: 1, max: 2 } }))).not.toEqual(places(first));
    const cropped = {
      ...recipeOf(10, 45),
      framing: { crop: { x: 0, y: 0, width: 160, height: 180 }, turn: 0, mirror: false, box: null },
    } as Recipe;
    const part = await look({ recipe: cropped });
    // The light is not seen there.
    expect(part.seam?.score).toBeGreaterThan(95);
  });

  it('says nothing of the joint of a woven reel, which is measured on what was woven', async () => {
    const { look } = worker();
    const woven = joinOf({ kind: 'per-pixel' }).over(20);
    // It never comes back there, and a cut would be plain to see.
    const cut = (await look({ recipe: recipeOf(10, 45) })).seam;
    expect(cut?.score).toBeLessThan(90);
    expect((await look({ recipe: recipeOf(10, 45, { join: woven }) })).seam?.score).toBe(100);
    // Where the span is too short for its round it is a cut, and judged as one.
    const short = joinOf({ kind: 'per-pixel' }).over(30);
    expect((await look({ recipe: recipeOf(10, 45, { join: short }) })).seam).toEqual(cut);
  });

  it('finds places where the end flows into the start once no cut is good, and has them at hand then', async () => {
    // It comes near to where it was, and never quite there.
    const away = (frame: number, u: number, v: number) => {
      const [x, y] = [u * 64 - 32 - 9 * Math.sin(frame / 15) - 4 * Math.sin(frame / 37), v * 36 - 18];
      const high = y - 4 * Math.sin(frame / 21);
      const near = Math.exp(-(x * x + high * high) / 40);
      const still = 90 + 30 * Math.sin(u * 16) + 20 * Math.cos(v * 12);
      return still + near * (130 - still / 2 + 25 * Math.sin(x) * Math.cos(high));
    };
    const { look } = worker(away);
    const wanted = { length: { min: 1, max: 3 } };
    const { found, candidates } = await look(wanted);
    expect(found.candidates.every(({ join }) => join.kind === 'cut')).toBe(true);
    const flowing = (candidates ?? []).filter(({ join }) => join.kind === 'flowed');
    expect(flowing.length).toBeGreaterThan(0);
    for (const { start, end, score, isMeasured } of flowing) {
      expect(isMeasured).toBe(true);
      expect(score).toBeGreaterThanOrEqual(50);
      expect(end - start).toBeGreaterThanOrEqual(20);
      expect(end - start).toBeLessThanOrEqual(60);
    }
    const [place] = flowing;
    const loop = { join: place.join };
    const taken = await look({ ...wanted, recipe: recipeOf(place.start, place.end, loop) });
    expect(taken.seam?.score).toBeCloseTo(place.score, 6);
    expect(taken.found.candidates).toContainEqual(place);
    // A cut that nobody sees needs no flow.
    const good = await worker().look({ length: { min: 1, max: 4 } });
    expect(good.candidates?.every(({ join }) => join.kind === 'cut')).toBe(true);
  });

  it('has candidates, but no seam, where no frame is left in the reel', async () => {
    const all = Array.from({ length: 35 }, (_, i) => [10 + i, 0, 1] as const);
    const recipe = recipeOf(10, 45, { edits: [{ kind: 'remove', frames: all, keepTime: false }] });
    const { seam, found } = await worker().look({ recipe });
    expect(seam).toBeNull();
    expect(found.candidates.length).toBeGreaterThan(0);
  });

  it('tells where other scenes begin, and finds loops within one scene only', async () => {
    const { found } = await worker(levelAt(57)).look({});
    expect(found.cuts).toEqual([57]);
    expect(found.candidates.length).toBeGreaterThan(1);
    for (const { start, end } of found.candidates)
      expect(end <= 57 || start >= 57, `${start}–${end}`).toBe(true);
    expect(found.candidates[0].end - found.candidates[0].start).toBe(PERIOD);
    expect((await worker().look({})).found.cuts).toEqual([]);
  });

  it('tells why a joint cannot be measured; what is found by signatures stands', async () => {
    const { ask, tell, goAway } = worker();
    goAway();
    const replies = await ask({});
    expect(replies.map(({ type }) => type)).toEqual(['found', 'unmeasured']);
    expect(replies[1]).toMatchObject({ problem: 'The server does not answer.' });
    const moving: MovingPlaces = {
      ...{ all: null, withReel: null },
      ripples: [{ id: 'a', places: new Uint8Array(SIGNATURE_SIZE.width * SIGNATURE_SIZE.height).fill(255) }],
    };
    const round = await tell({
      type: 'common-round',
      recipe: recipeOf(10, 45),
      length: { min: 1, max: 4 },
      moving,
    });
    expect(round).toEqual([{ type: 'common-round', found: null, problem: 'The server does not answer.' }]);
  });

  it('lets a newer question end what would be better for an older one', async () => {
    const { ask, look } = worker();
    const older = ask({});
    const newer = look({ recipe: recipeOf(20, 60) });
    expect((await older).filter(({ type }) => type === 'better').length).toBeLessThanOrEqual(1);
    expect((await newer).candidates?.every(({ isMeasured }) => isMeasured)).toBe(true);
  });

  it('lets no question that fails speak for a newer one', async () => {
    const { ask, goAway } = worker();
    goAway();
    const [older, newer] = await Promise.all([ask({}), ask({ recipe: recipeOf(20, 60) })]);
    expect(older.map(({ type }) => type)).toEqual(['found']);
    expect(newer.map(({ type }) => type)).toEqual(['found', 'unmeasured']);
  });

  it('takes a camera that is steadied out, and leaves one that is not', async () => {
    const shaken: typeof level = (frame, u, v) => level(frame, u + (frame < 60 ? 0 : 0.02), v);
    const { look } = worker(shaken);
    const recipe = recipeOf(40, 80);
    const still = { ...NOTHING_HELD, plate: { kind: 'frame' as const, frame: 50 } };
    const shown = async (steady: boolean) =>
      (await look({ recipe: { ...recipe, still: { ...still, steady } } })).seam;
    expect((await shown(true))?.score).toBeGreaterThan(((await shown(false))?.score ?? 100) + 10);
  });

  it('gives each ripple a round of its own, measures it, and finds a calm stretch', async () => {
    const { tell, look, footage } = worker();
    await footage;
    const { width, height } = SIGNATURE_SIZE;
    // All of the light's way, fading out over some places.
    const places = Uint8Array.from({ length: width * height }, (_, p) => {
      const [x, y] = [p % width, Math.floor(p / width)];
      return Math.max(0, Math.min(255, (22 - Math.hypot(x - 32, (y - 18) * 1.2)) * 60));
    });
    const moving: MovingPlaces = { all: places, withReel: places, ripples: [{ id: 'a', places }] };
    const recipe = recipeOf(10, 45);
    const [reply] = await tell({ type: 'common-round', recipe, length: { min: 1, max: 4 }, moving });
    if (reply?.type !== 'common-round' || !reply.found) throw new Error('No round was found.');
    const [{ id, round, score }] = reply.found.rounds;
    expect(id).toBe('a');
    expect((round.span.end - round.span.start) % PERIOD).toBe(0);
    expect(score).toBeGreaterThan(92);
    const held = (loop: typeof round | null): Recipe => ({
      ...recipe,
      still: {
        ...NOTHING_HELD,
        plate: { kind: 'frame', frame: 12 },
        ripples: [
          ...[{ id: 'a', name: 'Light', mask: null, outlines: [], grow: 0, feather: 0, invert: false }],
        ].map((ripple) => ({ ...ripple, shown: true, loop })),
      },
    });
    // With the reel it jumps, by itself it does not.
    expect((await look({ recipe: held(null), moving })).seam?.score).toBeLessThan(80);
    const answer = await look({ recipe: held(round), moving });
    expect(answer.own).toEqual([{ id: 'a', score: expect.closeTo(score, 0) }]);
    expect(answer.seam?.score).toBeCloseTo(score, 0);
    const length = recipe.span.end - recipe.span.start;
    expect((answer.found.calm?.span.end ?? 0) - (answer.found.calm?.span.start ?? 0)).toBe(length);
    expect(answer.found.calm?.mismatch).toBeLessThanOrEqual(answer.found.plate?.best.mismatch ?? 0);
  });
});

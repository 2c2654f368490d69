import { joinOf } from '@muted-pond/core/loop';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '@muted-pond/core/motion';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { NOTHING_HELD } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import {
  ALL_MOVES,
  createSeamWork,
  type MovingPlaces,
  type SeamAnswer,
  type SeamQuestion,
} from './seam-work.js';

const FRAMES = 120;
const PERIOD = 40;
const times = { starts: Array.from({ length: FRAMES }, (_, i) => i / 20), duration: FRAMES / 20 };

/** A light that goes round on ground with some pattern. */
const signatures = new Uint8Array(FRAMES * SIGNATURE_BYTES).fill(128);
for (let frame = 0; frame < FRAMES; frame++) {
  const turn = (2 * Math.PI * frame) / PERIOD;
  for (let p = 0; p < SIGNATURE_SIZE.width * SIGNATURE_SIZE.height; p++) {
    const [x, y] = [p % SIGNATURE_SIZE.width, Math.floor(p / SIGNATURE_SIZE.width)];
    const near = Math.hypot(x - 32 - 12 * Math.cos(turn), y - 18 - 9 * Math.sin(turn)) < 5;
    signatures[frame * SIGNATURE_BYTES + p] = near ? 230 : 90 + 30 * Math.sin(x / 4) + 20 * Math.cos(y / 3);
  }
}

/** The same light, and from `cut` on the night. */
function cutAt(cut: number): typeof signatures {
  const night = new Uint8Array(signatures);
  for (let at = cut * SIGNATURE_BYTES; at < night.length; at++) night[at] >>= 2;
  return night;
}

function worker(seen = signatures) {
  let clock = 0;
  const work = createSeamWork(() => clock++);
  work({
    type: 'footage',
    signatures: seen,
    window: { start: 0, end: FRAMES },
    times,
    size: { width: 640, height: 360 },
  });
  const look = (part: Partial<SeamQuestion>): SeamAnswer => {
    const reply = work({
      type: 'look',
      id: 1,
      recipe: recipeOf(10, 45),
      within: 'anywhere',
      length: { min: 1, max: 4 },
      moving: ALL_MOVES,
      ...part,
    });
    if (reply?.type !== 'answer') throw new Error('The worker did not answer.');
    return reply.answer;
  };
  return { work, look };
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
  it('answers nothing before it has footage', () => {
    const work = createSeamWork(() => 0);
    expect(
      work({
        type: 'look',
        id: 1,
        recipe: recipeOf(0, 9),
        within: 'span',
        moving: ALL_MOVES,
        length: { min: 1, max: 2 },
      }),
    ).toBeNull();
  });

  it('finds the loop, anywhere and inside the span, and scores the reel as it stands', () => {
    const { look } = worker();
    const [best] = look({}).candidates;
    expect((best.end - best.start) % PERIOD).toBe(0);
    expect(best.score).toBeGreaterThan(92);
    expect(look({ within: 'span' }).candidates.every(({ start, end }) => start >= 10 && end <= 45)).toBe(
      true,
    );
    expect(look({}).seam?.score).toBeLessThan(80);
    expect(look({ recipe: recipeOf(best.start, best.end) }).seam?.score).toBeCloseTo(best.score, 0);
  });

  it('advises a join for what does not meet', () => {
    const { look } = worker();
    expect(look({ recipe: recipeOf(30, 67) }).advice?.join.kind).toBe('crossfade');
    expect(look({ recipe: recipeOf(30, 70) }).advice?.join.kind).toBe('cut');
  });

  it('searches again only when what it searched has changed', () => {
    const { look } = worker();
    const first = look({});
    expect(look({ recipe: recipeOf(20, 60) }).candidates).toBe(first.candidates);
    expect(look({ length: { min: 1, max: 2 } }).candidates).not.toBe(first.candidates);
    const cropped = {
      ...recipeOf(10, 45),
      framing: { crop: { x: 0, y: 0, width: 320, height: 360 }, turn: 0, mirror: false, box: null },
    } as Recipe;
    expect(look({ recipe: cropped }).candidates).not.toBe(first.candidates);
  });

  it('says nothing of the joint of a woven reel, which is measured on what was woven', () => {
    const { look } = worker();
    const woven = joinOf({ kind: 'per-pixel' }).over(20);
    // It never comes back there, and a cut would be plain to see.
    const cut = look({ recipe: recipeOf(10, 45) }).seam;
    expect(cut?.score).toBeLessThan(90);
    expect(look({ recipe: recipeOf(10, 45, { join: woven }) }).seam).toEqual({ score: 100, jump: 0 });
    // Where the span is too short for its round it is a cut, and judged as one.
    const short = joinOf({ kind: 'per-pixel' }).over(30);
    expect(look({ recipe: recipeOf(10, 45, { join: short }) }).seam).toEqual(cut);
  });

  it('has candidates, but no seam, where no frame is left in the reel', () => {
    const all = Array.from({ length: 35 }, (_, i) => [10 + i, 0, 1] as const);
    const answer = worker().look({
      recipe: recipeOf(10, 45, { edits: [{ kind: 'remove', frames: all, keepTime: false }] }),
    });
    expect(answer.seam).toBeNull();
    expect(answer.candidates.length).toBeGreaterThan(0);
  });

  it('tells where other scenes begin, and finds loops within one scene only', () => {
    const { look } = worker(cutAt(57));
    const { cuts, candidates } = look({});
    expect(cuts).toEqual([57]);
    expect(candidates.length).toBeGreaterThan(1);
    for (const { start, end } of candidates) expect(end <= 57 || start >= 57, `${start}–${end}`).toBe(true);
    expect(candidates[0].end - candidates[0].start).toBe(PERIOD);
    expect(worker().look({}).cuts).toEqual([]);
  });

  it('gives each ripple a round of its own, measures it, and finds a calm stretch', () => {
    const { work, look } = worker();
    const { width, height } = SIGNATURE_SIZE;
    // All of the light's way, fading out over some places.
    const places = Uint8Array.from({ length: width * height }, (_, p) => {
      const [x, y] = [p % width, Math.floor(p / width)];
      return Math.max(0, Math.min(255, (22 - Math.hypot(x - 32, (y - 18) * 1.2)) * 60));
    });
    const moving: MovingPlaces = { all: places, withReel: places, ripples: [{ id: 'a', places }] };
    const recipe = recipeOf(10, 45);
    const reply = work({ type: 'common-round', recipe, length: { min: 1, max: 4 }, moving });
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
    expect(look({ recipe: held(null), moving }).seam?.score).toBeLessThan(80);
    const answer = look({ recipe: held(round), moving });
    expect(answer.own).toEqual([{ id: 'a', score: expect.closeTo(score, 0) }]);
    expect(answer.seam?.score).toBeCloseTo(score, 0);
    const length = recipe.span.end - recipe.span.start;
    expect((answer.calm?.span.end ?? 0) - (answer.calm?.span.start ?? 0)).toBe(length);
    expect(answer.calm?.mismatch).toBeLessThanOrEqual(answer.plate?.best.mismatch ?? 0);
  });
});

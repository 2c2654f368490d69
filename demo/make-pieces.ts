/**
 * Makes the recipes of the demo shelf, with the product's own tools: `npm run make-demo-pieces`. Loops are
 * found, what moves is proposed, plates are chosen; what comes out stands in `demo/pieces`, recipes and
 * masks, and is made into files when the demo is first started.
 */
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { CAPTION_STARTS, type DressSettings, newCaption, UNDRESSED, type Veil } from '@muted-pond/core/dress';
import {
  adviseJoin,
  createSeamField,
  findFlowLength,
  findFlowPlaces,
  findSeams,
  joinOf,
  type LoopLength,
  type LoopReel,
  lookSize,
  lookWeights,
  measureReelSeam,
  type Places,
  proposedScore,
  type SeamField,
} from '@muted-pond/core/loop';
import { alignSignatures, SIGNATURE_BYTES, SIGNATURE_SIZE } from '@muted-pond/core/motion';
import { sizeWithin } from '@muted-pond/core/pixels';
import {
  changeWeigh,
  newAnimationRecipe,
  newRecipe,
  newStillsRecipe,
  type Recipe,
  takeOf,
  type WeighChange,
} from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import {
  choosePlate,
  LONGEST_MASK_SIDE,
  NOTHING_HELD,
  PROPOSED_EDGE,
  proposedMasks,
  type Ripple,
  resizeMask,
} from '@muted-pond/core/still';
import type { Span } from '@muted-pond/core/timing';
import {
  adviseWeave,
  type MakingFile,
  mapFootage,
  openMeasuredTake,
  sourceFile,
} from '../packages/server/src/making/index.js';
import { encodeGreyPng, probeHere, readSmall } from '../packages/server/src/media/index.js';

const HERE = fileURLToPath(new URL('.', import.meta.url));
const OUT = join(HERE, 'pieces');
/** Spans between moments at rest of which the joint is measured. */
const MEASURED_TURNS = 24;
const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** A piece of the demo shelf: its files and masks by their names, and its recipe. */
interface DemoPiece {
  readonly name: string;
  readonly files: readonly string[];
  readonly masks: readonly string[];
  readonly recipe: Recipe;
}

async function open(name: string): Promise<MakingFile> {
  const path = join(HERE, 'footage', name);
  const hash = createHash('sha256').update(readFileSync(path)).digest('hex');
  return { hash, path, name, facts: await probeHere(path, name) };
}

async function signaturesOf(file: MakingFile): Promise<Uint8Array> {
  const count = file.facts.ticks.length;
  const signatures = new Uint8Array(count * SIGNATURE_BYTES);
  const frames = Array.from({ length: count }, (_, frame) => frame);
  for await (const { frame, signature } of readSmall({ ...file, frames })) {
    signatures.set(signature, frame * SIGNATURE_BYTES);
  }
  return signatures;
}

const weighing = (recipe: Recipe, change: WeighChange): Recipe => ({
  ...recipe,
  weigh: changeWeigh(recipe.weigh, change),
});

const dressed = (recipe: Recipe, part: Partial<DressSettings>): Recipe => ({
  ...recipe,
  dress: { ...UNDRESSED, ...part },
});

/** One line over the whole loop. */
const KETTLE_WORDS = {
  ...newCaption(CAPTION_STARTS.below, 'words'),
  text: 'First kettle of the day',
  style: {
    ...CAPTION_STARTS.below.style,
    ...{ font: 'book-serif', size: 8, outline: null, shadow: { colour: '#0f282b', strength: 90 } },
  },
  ...{ x: 0.62, y: 0.93 },
};

/** Over the name that is typed on the booking page of 1440 × 900 px. */
const NAME_VEIL: Veil = {
  ...{ id: 'name', name: 'Name', shape: 'rectangle', mask: null, effect: 'blocks', strength: 50 },
  ...{ colour: '#16302e', feather: 0, span: null, shown: true },
  keys: [{ frame: 0, x: 893 / 1440, y: 482 / 900, width: 200 / 1440, height: 38 / 900, by: 'hand' }],
};

const told = (name: string, what: string) => process.stdout.write(`${name}: ${what}\n`);

/** The best place to join, by the join that is advised there. */
async function looped(file: MakingFile, base: Recipe, length: LoopLength): Promise<Recipe> {
  const field = createSeamField(alignSignatures(await signaturesOf(file)), { part: WHOLE, moving: null });
  return loopIn(file, field, null, base, length);
}

async function loopIn(
  file: MakingFile,
  field: SeamField,
  moving: Places | null,
  base: Recipe,
  length: LoopLength,
): Promise<Recipe> {
  const { times } = sourceFile(file);
  const whole = { start: 0, end: times.starts.length };
  const scoreOf = seamsOf(file, moving);
  let best: { recipe: Recipe; score: number } | null = null;
  for (const { start, end } of findSeams(field, whole, times, whole, length)) {
    const pace = { times, span: { start, end }, rate: base.weigh.frameRate, every: 1, cuts: [] };
    const judge = { scoreOf, flowLength: () => null };
    const { join: way, score } = await adviseJoin(pace, base.loop, judge);
    const recipe = { ...base, span: { start, end }, loop: { ...base.loop, join: way } };
    if (!best || score > best.score + 0.5) best = { recipe, score };
  }
  if (!best) throw new Error(`${file.name} has no loop of that length.`);
  const { recipe, score } = best;
  told(
    file.name,
    `${recipe.span.start}–${recipe.span.end}, ${recipe.loop.join.kind}, seam ${score.toFixed(0)}`,
  );
  return recipe;
}

/** How unnoticeable the joints of a file are; 0 where a joint must not be proposed. */
function seamsOf(file: MakingFile, moving: Places | null): (loop: LoopReel) => Promise<number> {
  const take = openMeasuredTake(file, []);
  const weights = lookWeights(lookSize(file.facts), WHOLE, moving);
  return async (loop) => proposedScore(await measureReelSeam(take, loop, weights));
}

/** The place at which the end flows into the start best, whatever its period. */
async function flowing(file: MakingFile, base: Recipe, length: LoopLength): Promise<Recipe> {
  const { times } = sourceFile(file);
  const take = openMeasuredTake(file, []);
  const whole = { start: 0, end: times.starts.length };
  const ask = { within: whole, window: whole, length, every: 1, weights: null };
  const scoreOf = seamsOf(file, null);
  let best: { recipe: Recipe; score: number } | null = null;
  for (const span of await findFlowPlaces(take, times, ask)) {
    const pace = { times, span, rate: base.weigh.frameRate, every: 1, cuts: [] };
    const flowLength = (cut: LoopReel, longest: number) => findFlowLength(take, times, span, cut, longest);
    const { join: way, score } = await adviseJoin(pace, base.loop, { scoreOf, flowLength }, ['flowed']);
    if (!best || score > best.score)
      best = { recipe: { ...base, span, loop: { ...base.loop, join: way } }, score };
  }
  if (!best) throw new Error(`${file.name} has no loop of that length.`);
  const { span, loop } = best.recipe;
  told(
    file.name,
    `${span.start}–${span.end}, ${joinOf(loop.join).words(loop.join as never)}, seam ${best.score.toFixed(0)}`,
  );
  return best.recipe;
}

/** There and back between two moments at rest. */
async function swinging(file: MakingFile, base: Recipe, length: LoopLength): Promise<Recipe> {
  const { times } = sourceFile(file);
  const field = createSeamField(alignSignatures(await signaturesOf(file)), { part: WHOLE, moving: null });
  const perSecond = times.starts.length / times.duration;
  const spans: { span: Span; turning: number }[] = [];
  for (let start = 0; start < times.starts.length - 2; start++) {
    for (let frames = Math.round(length.min * perSecond); frames <= length.max * perSecond; frames++) {
      const end = start + frames;
      if (end > times.starts.length) break;
      const turning = Math.max(field.squared(start, start + 1), field.squared(end - 2, end - 1));
      spans.push({ span: { start, end }, turning });
    }
  }
  const scoreOf = seamsOf(file, null);
  let best: { recipe: Recipe; score: number } | null = null;
  for (const { span } of spans.sort((a, b) => a.turning - b.turning).slice(0, MEASURED_TURNS)) {
    const recipe: Recipe = { ...base, span, loop: { ...base.loop, join: { kind: 'there-and-back' } } };
    const score = await scoreOf(loopOf(recipe, { times }));
    if (!best || score > best.score) best = { recipe, score };
  }
  if (!best) throw new Error(`${file.name} is too short.`);
  told(
    file.name,
    `${best.recipe.span.start}–${best.recipe.span.end}, there and back, seam ${best.score.toFixed(0)}`,
  );
  return best.recipe;
}

/**
 * The proposed part whose middle lies at the given share of the width: it moves, the rest is held by the
 * frame that meets it best.
 */
async function cinemagraph(
  file: MakingFile,
  base: Recipe,
  length: LoopLength,
  at: { readonly from: number; readonly to: number },
): Promise<{ recipe: Recipe; mask: { name: string; png: Uint8Array } }> {
  const source = sourceFile(file);
  const { times, size } = takeOf(base, [source]);
  const whole = { start: 0, end: times.starts.length };
  const signatures = alignSignatures(await signaturesOf(file));
  const proposed = proposedMasks(await mapFootage(file, whole), sizeWithin(size, LONGEST_MASK_SIDE));
  const mask = proposed.find((one) => {
    const middle = middleOf(one);
    return middle >= at.from && middle <= at.to;
  });
  if (!mask) throw new Error(`Nothing moves there in ${file.name}.`);
  const moving = resizeMask(mask, SIGNATURE_SIZE).values;
  const field = createSeamField(signatures, { part: WHOLE, moving });
  const recipe = await loopIn(file, field, { ...SIGNATURE_SIZE, values: moving }, base, length);
  const shown = Array.from({ length: recipe.span.end - recipe.span.start }, (_, i) => recipe.span.start + i);
  const plate = choosePlate(signatures, moving, shown, shown, recipe.span.start)?.best.frame;
  const png = await encodeGreyPng(mask.values, mask);
  const name = `${file.name.split('.')[0]}-moves.png`;
  const ripple: Ripple = {
    ...{ id: 'part-1', name: 'Moving part 1', outlines: [], invert: false, grow: 0, feather: 0 },
    ...{ ...PROPOSED_EDGE, shown: true, loop: null },
    mask: createHash('sha256').update(png).digest('hex'),
  };
  const still = { ...NOTHING_HELD, ripples: [ripple], steady: true, evenLight: true };
  return {
    recipe: { ...recipe, still: { ...still, plate: { kind: 'frame', frame: plate ?? recipe.span.start } } },
    mask: { name, png },
  };
}

/** What moves, woven over the best common length in the footage around the span. @param mask where its PNG lies. */
async function wovenOver(
  file: MakingFile,
  recipe: Recipe,
  mask: string,
  length: LoopLength,
): Promise<Recipe> {
  const layers = recipe.still.ripples.map((ripple) => ({ hash: ripple.mask ?? '', path: mask }));
  const advice = await adviseWeave({ files: [file], layers, recipe, length, within: 'around' });
  if (!advice) throw new Error(`${file.name} is too short.`);
  const { span, join: settings, score, energy, moving } = advice;
  told(
    file.name,
    `woven over ${settings.frames} of ${span.start}–${span.end}, ${Math.round(100 * moving)} % moves, energy ${energy.toFixed(1)}, seam ${score.toFixed(0)}`,
  );
  return { ...recipe, span, loop: { ...recipe.loop, join: settings } };
}

/** Where the middle of what moves lies, share of the width. */
function middleOf({ width, values }: { width: number; values: Uint8Array }): number {
  let [sum, weight] = [0, 0];
  for (let p = 0; p < values.length; p++) {
    sum += values[p] * (p % width);
    weight += values[p];
  }
  return sum / Math.max(1, weight) / width;
}

const over = (file: MakingFile): Recipe => newRecipe(file.hash, sourceFile(file).times);

async function makeAll(): Promise<void> {
  mkdirSync(OUT, { recursive: true });
  const pieces: DemoPiece[] = [];
  const put = (name: string, files: readonly MakingFile[], recipe: Recipe, masks: readonly string[] = []) =>
    pieces.push({ name, files: files.map((file) => file.name), masks, recipe });

  const kettle = await open('kettle.mov');
  const wide = weighing(over(kettle), { width: 560, frameRate: 12.5, gif: { dither: 'none' } });
  const steam = await cinemagraph(kettle, wide, { min: 3, max: 4.5 }, { from: 0.38, to: 0.55 });
  writeFileSync(join(OUT, steam.mask.name), steam.mask.png);
  const woven = await wovenOver(kettle, steam.recipe, join(OUT, steam.mask.name), { min: 3, max: 4 });
  const words = dressed(woven, { captions: [KETTLE_WORDS] });
  put('First kettle of the day', [kettle], words, [steam.mask.name]);

  const lantern = await open('lantern.mp4');
  // It swings for 2.4 s: no cut of less closes.
  put('Lantern over the landing', [lantern], await flowing(lantern, over(lantern), { min: 2, max: 2.25 }));

  const bell = await open('sideways.mp4');
  const upright = weighing(over(bell), { width: 320, frameRate: 20 });
  put('Wind bell, upright', [bell], await swinging(bell, upright, { min: 0.6, max: 0.9 }));

  const koi = await open('koi.webm');
  put(
    'Carp, circling',
    [koi],
    await looped(koi, weighing(over(koi), { width: 400 }), { min: 2.8, max: 3.2 }),
  );

  const menu = await Promise.all([1, 2, 3].map((panel) => open(`autumn menu ${panel}.png`)));
  const panels = weighing(newStillsRecipe(menu.map(sourceFile)), { width: 336, gif: { dither: 'none' } });
  put('Autumn menu panels', menu, dressed(panels, { border: { width: 3, colour: '#16302e' } }));

  const stalls = await Promise.all(
    ['1.jpg', '2.jpg', '3.webp', '4.png', '5.jpg'].map((stall) => open(`market stall ${stall}`)),
  );
  const market = weighing(newStillsRecipe(stalls.map(sourceFile)), { width: 400 });
  const square = market.sources.map((source) =>
    source.kind === 'stills'
      ? { ...source, canvas: { width: 600, height: 600 }, fit: 'cover' as const, delayCs: 90 }
      : source,
  );
  put('Market stalls', stalls, { ...market, sources: square });

  const booking = await open('booking.mp4');
  const page = weighing(over(booking), { width: 640, frameRate: 10, gif: { colors: 64, dither: 'none' } });
  const { loop } = page;
  put('How to keep a table', [booking], {
    ...dressed(page, { veils: [NAME_VEIL] }),
    span: { start: 200, end: 420 },
    loop: { ...loop, speed: 1.5, restEndCs: 120 },
  });

  const badge = await open('badge.png');
  const old = await open('old loop.gif');
  for (const [file, name, width] of [
    [badge, 'Osier Lane badge', 240],
    [old, 'Boat day, an old loop', 320],
  ] as const) {
    const { times } = sourceFile(file);
    put(name, [file], weighing(newAnimationRecipe(file.hash, times, 0), { width }));
  }
  writeFileSync(join(OUT, 'pieces.json'), `${JSON.stringify(pieces, null, 1)}\n`);
}

await makeAll();

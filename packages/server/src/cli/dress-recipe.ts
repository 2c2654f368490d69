import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  type Anchor,
  CAPTION_STARTS,
  type Caption,
  chooseFonts,
  type DressSettings,
  decodeText,
  dressHashes,
  type Emblem,
  newCaption,
  placeSubtitles,
  readSubtitles,
  type ShownTime,
  type Veil,
} from '@muted-pond/core/dress';
import { UserError } from '@muted-pond/core/errors';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { nearestBoundary } from '@muted-pond/core/timing';
import { type MakingFile, type MakingLayer, sourceFile } from '../making/index.js';
import { shippedFaces } from '../text/index.js';
import type { CaptionFlag, DressFlags, EmblemFlag, SecondsRange, VeilFlag } from './dress-flags.js';
import { fileIdentity } from './file-identity.js';

export interface DressedRecipe {
  readonly recipe: Recipe;
  readonly layers: readonly MakingLayer[];
  /** What was left out, in sentences. */
  readonly notes: readonly string[];
  /** Removes the temporary files. */
  cleanUp(): Promise<void>;
}

/** The recipe with the dress of the command line laid over it. */
export async function dressRecipe(
  flags: DressFlags,
  recipe: Recipe,
  files: readonly MakingFile[],
): Promise<DressedRecipe> {
  if (dressHashes(recipe.dress).length > 0) {
    throw new UserError(
      'bad_flag',
      'This recipe has emblems, tables of colours, fonts or painted veils, which lie with the server. Give --lut and --emblem, or take them out of the recipe.',
    );
  }
  const { colour } = recipe.dress;
  const { sharpness = colour.sharpness, ...grade } = flags.grade;
  const table = flags.lut === null ? null : await openTable(flags.lut);
  const captions = await openCaptions(flags, recipe, files);
  const emblems = await openEmblems(flags.emblems);
  const { dress } = recipe;
  const dressed: DressSettings = {
    colour: {
      ...colour,
      grade: { ...colour.grade, ...grade },
      sharpness,
      look: flags.look ?? colour.look,
      table: table?.table ?? null,
    },
    veils: [...dress.veils, ...flags.veils.map((veil, i) => veilOf(veil, i, recipe, files))],
    emblems: [...dress.emblems, ...emblems.emblems],
    captions: [...dress.captions, ...captions.captions],
    border: flags.border ?? dress.border,
    corners: flags.corner === null ? dress.corners : { radius: flags.corner, fill: 'transparent' },
  };
  return {
    recipe: { ...recipe, dress: dressed },
    layers: [...(table ? [table.layer] : []), ...emblems.layers],
    notes: captions.notes,
    cleanUp: emblems.cleanUp,
  };
}

/** Loaded only where a table or an emblem is given: a module of the server comes with it. */
async function layerKeepers() {
  return (await import('../layers/index.js')).LAYER_KEEPERS;
}

async function openTable(path: string) {
  await (await layerKeepers()).table.keep(path, basename(path));
  const hash = await fileIdentity(path);
  const table = { hash, name: basename(path).slice(0, 120), strength: 100 };
  return { table, layer: { hash, path } };
}

/** Where captions stand at each anchor, shares of the frame. */
const ACROSS = { left: 0.2, middle: 0.5, right: 0.8 };
const DOWN = { top: 0.11, middle: 0.5, bottom: 0.88 };

function placeOf(anchor: Anchor): { x: number; y: number } {
  const across = anchor.includes('left') ? 'left' : anchor.includes('right') ? 'right' : 'middle';
  const down = anchor.includes('top') ? 'top' : anchor.includes('bottom') ? 'bottom' : 'middle';
  return { x: ACROSS[across], y: DOWN[down] };
}

function timeOf(range: SecondsRange | null): ShownTime | null {
  return range && { fromCs: Math.round(range.from * 100), toCs: Math.round(range.to * 100) };
}

function captionOf({ text, place, size, time }: CaptionFlag, i: number): Caption {
  const start = newCaption(CAPTION_STARTS.below, `caption-${i + 1}`);
  const style = size === null ? start.style : { ...start.style, size };
  return { ...start, text, style, ...(place ? placeOf(place) : {}), time: timeOf(time) };
}

async function openCaptions(
  { captions, subtitles }: DressFlags,
  recipe: Recipe,
  files: readonly MakingFile[],
): Promise<{ captions: readonly Caption[]; notes: readonly string[] }> {
  const typed = captions.map(captionOf);
  const notes: string[] = [];
  let read: readonly Caption[] = [];
  if (subtitles !== null) {
    const { text, note } = decodeText(new Uint8Array(await readFile(subtitles)));
    const { entries, notes: readNotes } = readSubtitles(text);
    const take = takeOf(recipe, files.map(sourceFile));
    const ground = { reel: loopOf(recipe, take).reel, times: take.times };
    const placed = placeSubtitles(entries, 'footage', ground, null);
    notes.push(...(note ? [note] : []), ...readNotes, ...placed.notes);
    read = placed.captions;
  }
  const all = [...typed, ...read];
  const faces = await shippedFaces();
  const missing = new Set(all.flatMap(({ text, style }) => chooseFonts(text, style.font, faces).missing));
  if (missing.size > 0) notes.push(`No font has ${[...missing].join(' ')}; left out.`);
  return { captions: all, notes };
}

async function openEmblems(flags: readonly EmblemFlag[]) {
  const emblems: Emblem[] = [];
  const layers: MakingLayer[] = [];
  const folders: string[] = [];
  const cleanUp = async () => {
    for (const folder of folders) await rm(folder, { recursive: true, force: true });
  };
  try {
    for (const [i, { path, place, size, time }] of flags.entries()) {
      const { bytes } = await (await layerKeepers()).emblem.keep(path, basename(path));
      const folder = await mkdtemp(join(tmpdir(), 'muted-pond-emblem-'));
      folders.push(folder);
      const file = join(folder, 'emblem.png');
      await writeFile(file, bytes ?? (await readFile(path)));
      const hash = await fileIdentity(path);
      layers.push({ hash, path: file });
      emblems.push({
        ...{ id: `emblem-${i + 1}`, name: basename(path).slice(0, 80), hash, margin: 5, turn: 0 },
        ...{ anchor: place ?? 'bottom-right', width: size ?? 18, opacity: 100, shown: true },
        time: timeOf(time),
      });
    }
  } catch (error) {
    await cleanUp();
    throw error;
  }
  return { emblems, layers, cleanUp };
}

function veilOf(
  { rect, time, effect }: VeilFlag,
  i: number,
  recipe: Recipe,
  files: readonly MakingFile[],
): Veil {
  const { size, times } = takeOf(recipe, files.map(sourceFile));
  const { x, y, width, height } = rect;
  if (x >= size.width || y >= size.height || x + width <= 0 || y + height <= 0) {
    throw new UserError(
      'bad_flag',
      `--veil ${x},${y},${width},${height} lies beside the picture, which is ${size.width} × ${size.height} px.`,
    );
  }
  const span = time && { start: nearestBoundary(times, time.from), end: nearestBoundary(times, time.to) };
  if (span && span.end <= span.start) {
    throw new UserError('bad_flag', `--veil: from ${time?.from} s to ${time?.to} s there is no frame.`);
  }
  const at = {
    x: x / size.width,
    y: y / size.height,
    width: width / size.width,
    height: height / size.height,
  };
  return {
    ...{ id: `veil-${i + 1}`, name: 'Veil', shape: 'rectangle', mask: null, effect, strength: 50 },
    ...{ colour: '#000000', feather: 0, keys: [{ ...at, frame: 0, by: 'hand' }], span, shown: true },
  };
}

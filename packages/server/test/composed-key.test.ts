import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { changeWeigh, newStillsRecipe, type Recipe, type StillsSource } from '@muted-pond/core/recipe';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { encodeTask, type MakingFile, sourceFile } from '../src/making/index.js';
import { probeHere } from '../src/media/index.js';
import { type ClipFolder, clipFolder } from './clips.js';

/**
 * What a thread remembers of composed reels must not make one recipe's file from another's frames: all here
 * run in one thread.
 */

let clips: ClipFolder;
const files: Record<'red' | 'blue' | 'wide', MakingFile> = {} as never;

beforeAll(async () => {
  clips = clipFolder();
  await picture('red', 40, 40, '#ff0000');
  await picture('blue', 40, 40, '#0000ff');
  await picture('wide', 80, 20, '#00ff00');
});
afterAll(() => clips.remove());

async function picture(name: keyof typeof files, width: number, height: number, background: string) {
  const path = join(clips.path, `${name}.png`);
  const image = sharp({ create: { width, height, channels: 3, background } });
  await writeFile(path, await image.png().toBuffer());
  files[name] = { hash: name.padEnd(64, '0'), path, name, facts: await probeHere(path, name) };
}

function recipeOf(names: readonly (keyof typeof files)[], edit = (source: StillsSource) => source): Recipe {
  const recipe = newStillsRecipe(names.map((name) => sourceFile(files[name])));
  const source = recipe.sources[0] as StillsSource;
  return {
    ...recipe,
    sources: [edit({ ...source, canvas: { width: 40, height: 40 } })],
    weigh: changeWeigh(recipe.weigh, { width: 40, gif: { dither: 'none', settle: 0, squeeze: 0 } }),
  };
}

/** The colour in the middle of every frame, as an independent reader sees it, and in a corner. */
async function coloursOf(recipe: Recipe): Promise<string[]> {
  const { bytes } = await encodeTask({ files: Object.values(files), layers: [], recipe });
  const { pictures } = await readWithSharp(bytes);
  const at = (rgba: Uint8Array, place: number) =>
    Buffer.from(rgba.subarray(place, place + 3)).toString('hex');
  return pictures.map((rgba) => `${at(rgba, (20 * 40 + 20) * 4)} ${at(rgba, 0)}`);
}

const [RED, BLUE, GREEN] = ['ff0000', '0000ff', '00ff00'];
const both = (colour: string) => `${colour} ${colour}`;

describe('two recipes in a row in one thread', () => {
  it('stills in another order are another file', async () => {
    expect(await coloursOf(recipeOf(['red', 'red', 'blue']))).toEqual([both(RED), both(BLUE)]);
    expect(await coloursOf(recipeOf(['red', 'blue', 'blue']))).toEqual([both(RED), both(BLUE)]);
    const [first, second] = [recipeOf(['red', 'red', 'blue']), recipeOf(['red', 'blue', 'blue'])];
    const made = await Promise.all(
      [first, second].map((recipe) => encodeTask({ files: Object.values(files), layers: [], recipe })),
    );
    const delays = await Promise.all(made.map(async ({ bytes }) => (await readWithSharp(bytes)).delaysCs));
    expect(delays).toEqual([
      [400, 200],
      [200, 400],
    ]);
  });

  it('a fit rule of one picture counts for that picture', async () => {
    const covered = (places: readonly number[]) =>
      recipeOf(['wide', 'wide', 'wide'], (source) => ({
        ...source,
        fit: 'contain',
        pictures: source.pictures.map((one, i) => ({ ...one, fit: places.includes(i) ? 'cover' : null })),
      }));
    const contained = `${GREEN} ffffff`;
    const delaysOf = async (places: readonly number[]) => {
      const { bytes } = await encodeTask({
        files: Object.values(files),
        layers: [],
        recipe: covered(places),
      });
      return (await readWithSharp(bytes)).delaysCs;
    };
    expect(await coloursOf(covered([2]))).toEqual([contained, both(GREEN)]);
    expect(await delaysOf([2])).toEqual([400, 200]);
    expect(await delaysOf([1, 2])).toEqual([200, 400]);
    expect(await coloursOf(covered([0, 2]))).toEqual([both(GREEN), contained, both(GREEN)]);
  });
});

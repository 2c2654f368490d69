import { createHash } from 'node:crypto';
import { fileKey } from '@muted-pond/core/derived';
import { CAPTION_STARTS, newCaption, UNDRESSED } from '@muted-pond/core/dress';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type MakingFile, makeFile, sourceFile } from '../src/making/index.js';
import { probeHere } from '../src/media/index.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let file: MakingFile;
let recipe: Recipe;

beforeAll(async () => {
  clips = clipFolder();
  const path = clips.make('tiny.mp4', '-f', 'lavfi', '-i', 'testsrc2=s=96x64:r=10:d=1', '-c:v', 'libx264');
  file = { hash: 'a'.repeat(64), path, name: 'tiny.mp4', facts: await probeHere(path, 'tiny.mp4') };
  const { hash, times } = sourceFile(file);
  const base = newRecipe(hash, times);
  const at = { x: 0.1, y: 0.1, width: 0.3, height: 0.3 };
  recipe = {
    ...base,
    weigh: { ...base.weigh, width: 96 },
    dress: {
      ...UNDRESSED,
      captions: [{ ...newCaption(CAPTION_STARTS.below, 'c'), text: 'Tea' }],
      veils: [
        {
          ...{ id: 'v', name: 'Face', shape: 'rectangle', mask: null, effect: 'plain', strength: 50 },
          ...{
            colour: '#204060',
            feather: 0,
            keys: [{ ...at, frame: 0, by: 'hand' }],
            span: null,
            shown: true,
          },
        },
      ],
    },
  };
});
afterAll(() => clips.remove());

const hashOf = async (made: Recipe) => {
  const { bytes } = await makeFile({ files: [file], layers: [], recipe: made }, { measures: false });
  return createHash('sha256').update(bytes).digest('hex');
};
const dressed = (change: (dress: Recipe['dress']) => Recipe['dress']): Recipe => ({
  ...recipe,
  dress: change(recipe.dress),
});

it.each<[string, () => Recipe, boolean]>([
  [
    'names and ids',
    () =>
      dressed(({ captions, veils, ...dress }) => ({
        ...dress,
        captions: captions.map((one) => ({ ...one, id: 'another' })),
        veils: veils.map((one) => ({ ...one, id: 'others', name: 'Number plate' })),
      })),
    true,
  ],
  [
    'settings of another kind',
    () => ({ ...recipe, weigh: { ...recipe.weigh, webp: { ...recipe.weigh.webp, quality: 3 } } }),
    true,
  ],
  [
    'a caption’s words',
    () =>
      dressed((dress) => ({ ...dress, captions: dress.captions.map((one) => ({ ...one, text: 'Cake' })) })),
    false,
  ],
  [
    'a veil’s colour',
    () =>
      dressed((dress) => ({ ...dress, veils: dress.veils.map((one) => ({ ...one, colour: '#ff0000' })) })),
    false,
  ],
  ['the span', () => ({ ...recipe, span: { start: 1, end: 9 } }), false],
  ['how often it plays', () => ({ ...recipe, plays: 2 }), false],
  [
    'its colours',
    () => ({ ...recipe, weigh: { ...recipe.weigh, gif: { ...recipe.weigh.gif, colors: 8 } } }),
    false,
  ],
])('a file with other %s has another key exactly when it has other bytes', async (_, other, isSame) => {
  const next = other();
  expect(fileKey(next) === fileKey(recipe)).toBe(isSame);
  expect((await hashOf(next)) === (await hashOf(recipe))).toBe(isSame);
});

import type { DressSettings } from '../dress/index.js';
import { type Derivation, identityOf } from '../identity/index.js';
import type { Recipe } from '../recipe/index.js';
import { ENGINE_VERSION } from '../render/index.js';
import type { StillSettings } from '../still/index.js';

const FILE: Derivation = { name: 'file', version: ENGINE_VERSION };

/** All that the bytes of a recipe's finished file depend on. Names and ids reach no pixel. */
export function fileInputs(recipe: Recipe) {
  const { version, sources, span, framing, loop, still, dress, plays, weigh } = recipe;
  const { width, frameRate, matte, kind } = weigh;
  return {
    ...{ version, sources, span, framing, loop, plays, width, frameRate, matte, kind },
    still: stillInputs(still),
    dress: dressInputs(dress),
    // Settings of other kinds of file change nothing of this one.
    settings: weigh[kind],
  };
}

/** The finished file of a recipe. */
export function fileKey(recipe: Recipe): string {
  return identityOf(FILE, fileInputs(recipe));
}

function stillInputs({ ripples, ...still }: StillSettings) {
  return { ...still, ripples: ripples.map(withoutName) };
}

function dressInputs({ colour, veils, captions, emblems, ...dress }: DressSettings) {
  return {
    ...dress,
    colour: { ...colour, table: colour.table && { ...colour.table, name: undefined } },
    veils: veils.map(withoutName),
    captions: captions.map(withoutName),
    emblems: emblems.map(withoutName),
  };
}

function withoutName<Entry extends object>(entry: Entry) {
  return { ...entry, id: undefined, name: undefined };
}

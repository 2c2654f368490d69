import { SENT_KINDS } from '../files/index.js';
import { type Derivation, identityOf } from '../identity/index.js';
import { changeWeigh, type Recipe } from '../recipe/index.js';
import { fileKey } from './file.js';

const KINDS: Derivation = { name: 'kinds', version: 1 };

/** The same loop in every kind of file that can be sent. */
export function kindsKey(recipe: Recipe): string {
  const files = SENT_KINDS.map((kind) => fileKey({ ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) }));
  return identityOf(KINDS, { files });
}

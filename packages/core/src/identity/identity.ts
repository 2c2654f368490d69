import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { stringify } from 'safe-stable-stringify';

/** Something that is computed from a recipe, its take or its footage. */
export interface Derivation {
  readonly name: string;
  /** Goes up when the same inputs give another result. */
  readonly version: number;
}

/** Parts of documents are never changed in place, so their text is made once. */
const texts = new WeakMap<object, string>();

/**
 * The key of a result: equal for equal inputs, in whatever order their fields stand, and for no others.
 * @param inputs plain data; what is undefined is left out.
 * @returns SHA-256, 64 hexadecimal digits.
 */
export function identityOf({ name, version }: Derivation, inputs: Readonly<Record<string, unknown>>): string {
  const fields = Object.keys(inputs)
    .filter((field) => inputs[field] !== undefined)
    .sort()
    .map((field) => `${stringify(field)}:${textOf(inputs[field])}`);
  return bytesToHex(sha256(utf8ToBytes(`${name} ${version} {${fields.join()}}`)));
}

/** Canonical JSON: keys of objects in their order. */
function textOf(value: unknown): string {
  if (typeof value !== 'object' || value === null) return stringify(value) ?? 'null';
  const there = texts.get(value);
  if (there !== undefined) return there;
  const text = stringify(value) ?? 'null';
  texts.set(value, text);
  return text;
}

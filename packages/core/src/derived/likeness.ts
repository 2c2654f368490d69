import { type Derivation, identityOf } from '../identity/index.js';
import { ENGINE_VERSION } from '../render/index.js';

const LIKENESS: Derivation = { name: 'likeness', version: ENGINE_VERSION };

/**
 * How close a finished file is to its reel, seen at a common width.
 * @param file the file's own key.
 * @param width px.
 */
export function likenessKey(file: string, width: number): string {
  return identityOf(LIKENESS, { file, width });
}

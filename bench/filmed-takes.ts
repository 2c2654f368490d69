import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { createFrame, type PixelFrame, type Size } from '../packages/core/src/pixels/index.js';
import { decodeAll } from './measure.js';

/** Filmed takes, which do not come with the project. */
const FILMED: Readonly<Record<string, string>> = {
  'filmed box': 'filmed-box.mp4',
  'filmed leaves': 'filmed-leaves.avi',
};
const FOLDER = '../shared/inputs';

export const isFilmed = (name: string): boolean => Object.hasOwn(FILMED, name);

/**
 * All frames of a filmed take.
 * @returns null, told, where the file is not there.
 */
export function filmedTake(root: string, name: string, { width, height }: Size): PixelFrame[] | null {
  const file = join(root, FOLDER, FILMED[name]);
  if (!existsSync(file)) {
    console.log(`${FOLDER}/${FILMED[name]} is not there: what needs it is left out.`);
    return null;
  }
  return decodeAll(file, width, height, true).map((rgba) => createFrame(width, height, new Uint8Array(rgba)));
}

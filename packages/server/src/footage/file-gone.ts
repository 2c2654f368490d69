import { Problem } from '../problems/index.js';
import type { Footage } from './footage.entity.js';

/** The row is there, the bytes are not. */
export function fileGone({ name }: Footage): Problem {
  return new Problem(
    410,
    'file_gone',
    `“${name}” is gone from the disk. Bring the same file in again, and all that is made from it is whole.`,
  );
}

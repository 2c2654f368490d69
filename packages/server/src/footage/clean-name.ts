import { plainLine } from '@muted-pond/core/schema';

const LONGEST_NAME = 200;

/** The last part of a path as one plain line, never empty. */
export function cleanName(name: string | undefined): string {
  const last = (name ?? '').split(/[\\/]/).at(-1) ?? '';
  // By characters, so that none is cut in two.
  return [...plainLine(last)].slice(0, LONGEST_NAME).join('').trim() || 'unnamed';
}

import { shownBy } from '@muted-pond/core/pages';
import type { KindFile } from './kind-files.js';
import type { PageChoice } from './use-snippet.js';

/** The file that a browser of today, which knows all kinds, takes from the page; null where there is none. */
export function shownFile({ way, sent }: Pick<PageChoice, 'way' | 'sent'>): KindFile | null {
  if (!way) return null;
  const shown = shownBy(way, sent);
  const [first = null] = way === 'image' ? shown : lightestFirst(shown);
  return first;
}

function lightestFirst(files: readonly KindFile[]): KindFile[] {
  return [...files].sort((one, other) => one.figures.bytes - other.figures.bytes);
}

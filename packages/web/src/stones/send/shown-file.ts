import { takenFrom } from '@muted-pond/core/pages';
import type { KindFile } from './kind-files.js';
import type { PageChoice } from './use-snippet.js';

/** The file that a browser of today, which knows all kinds, takes from the page; null where there is none. */
export function shownFile({ way, sent }: Pick<PageChoice, 'way' | 'sent'>): KindFile | null {
  return (
    way &&
    takenFrom(
      way,
      sent.map((file) => ({ ...file, bytes: file.figures.bytes })),
    )
  );
}

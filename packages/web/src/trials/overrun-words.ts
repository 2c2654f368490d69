import { checkLimit, type Limit, type LimitedFile, type Overrun } from '@muted-pond/core/recipe';
import { formatBytes, formatRate } from '../ui/format.js';

/** In a few words, in what a file is over a limit. */
export function overrunWords({ what, is, most }: Overrun): string {
  switch (what) {
    case 'bytes':
      return `${formatBytes(is - most)} over`;
    case 'width':
      return `${is - most} px too wide`;
    case 'height':
      return `${is - most} px too high`;
    case 'seconds':
      return `${(is - most).toFixed(2)} s too long`;
    case 'frameRate':
      return `${formatRate(is)} fps, ${formatRate(Math.floor(most))} at most`;
    case 'alpha':
      return 'must not be transparent';
    case 'kind':
      return 'of a kind that it does not take';
  }
}

/** Whether a file keeps a limit, in a word or two; null where there is none. */
export function verdictOf(
  limit: Limit | null,
  file: LimitedFile | null,
): { fits: boolean; words: string } | null {
  if (!limit || !file) return null;
  const over = checkLimit(limit, file);
  return over.length === 0
    ? { fits: true, words: `${formatBytes(limit.bytes - file.bytes)} under` }
    : { fits: false, words: over.map(overrunWords).join(', ') };
}

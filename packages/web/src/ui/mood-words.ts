import type { Mood } from '@muted-pond/core/api';

/** What a place does in each mood, as one reads it beside its name. */
export const MOOD_WORDS: Readonly<Record<Mood, string>> = {
  fair: 'Fair',
  slow: 'Slow',
  'breaks-off': 'Breaks off',
  refuses: 'Refuses all',
  full: 'Full',
  're-encodes': 'Makes it smaller',
};

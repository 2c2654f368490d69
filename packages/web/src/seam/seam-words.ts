import type { JointFault, SeamVerdict } from '@muted-pond/core/loop';

export const VERDICT_WORDS: Readonly<Record<SeamVerdict, string>> = {
  unnoticed: 'not noticed',
  hardly: 'hardly noticed',
  noticed: 'noticed',
  plain: 'plain to see',
};

/** What is seen of a joint. */
export const FAULT_WORDS: Readonly<Record<JointFault, string>> = {
  ghost: 'Two pictures show through each other.',
  jump: 'The picture leaps.',
  bend: 'What moves jerks.',
};

/** The same, where it is shown on the picture. */
export const FAULT_HERE: Readonly<Record<JointFault, string>> = {
  ghost: 'two pictures show through each other here',
  jump: 'the picture leaps here',
  bend: 'what moves jerks here',
};

/** What a joint that flows leaves behind. */
export const FALLEN_HERE = 'this cannot follow and changes over quickly';

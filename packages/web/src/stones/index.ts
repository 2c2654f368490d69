import { cutStone } from './cut/cut-stone.js';
import { gatherStone } from './gather/gather-stone.js';
import { sendStone } from './send/send-stone.js';
import type { Stone } from './stone.js';
import { weighStone } from './weigh/weigh-stone.js';

/** The course, in order. A new stone is a folder beside these and a line here. */
export const STONES: readonly Stone[] = [
  gatherStone,
  cutStone,
  {
    id: 'loop',
    name: 'Loop',
    built: false,
    about:
      'Here the end will meet the start: the places where the footage already meets itself, and the ways to join it. Until then the span repeats with a plain cut.',
  },
  {
    id: 'still',
    name: 'Still',
    built: false,
    about: 'Here everything will be held still except where you stir. Until then the whole picture moves.',
  },
  {
    id: 'dress',
    name: 'Dress',
    built: false,
    about: 'Here will be colour, looks, captions and a border. Until then the footage keeps its own colours.',
  },
  weighStone,
  sendStone,
];

export type { BuiltStone, Stone, UnbuiltStone } from './stone.js';

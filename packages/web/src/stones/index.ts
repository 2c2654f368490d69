import { cutStone } from './cut/cut-stone.js';
import { gatherStone } from './gather/gather-stone.js';
import { loopStone } from './loop/loop-stone.js';
import { sendStone } from './send/send-stone.js';
import { stillStone } from './still/still-stone.js';
import type { Stone } from './stone.js';
import { weighStone } from './weigh/weigh-stone.js';

/** The course, in order. A new stone is a folder beside these and a line here. */
export const STONES: readonly Stone[] = [
  gatherStone,
  cutStone,
  loopStone,
  stillStone,
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

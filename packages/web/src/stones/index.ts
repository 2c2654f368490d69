import type { Stone } from '../stone/stone.js';
import { cutStone } from './cut/cut-stone.js';
import { dressStone } from './dress/dress-stone.js';
import { gatherStone } from './gather/gather-stone.js';
import { loopStone } from './loop/loop-stone.js';
import { sendStone } from './send/send-stone.js';
import { stillStone } from './still/still-stone.js';
import { weighStone } from './weigh/weigh-stone.js';

/** The course, in order. A new stone is a folder beside these and a line here. */
export const STONES: readonly Stone[] = [
  gatherStone,
  cutStone,
  loopStone,
  stillStone,
  dressStone,
  weighStone,
  sendStone,
];

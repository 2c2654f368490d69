import { Injectable } from '@nestjs/common';
import { CORES } from '../threads/index.js';
import { TaskQueue } from './task-queue.js';

/** Passes over footage that run at once: one in the background, and one for what somebody looks at. */
const PASSES = 2;

/**
 * What waits for its turn. Computing and reading are queued apart: a decoder runs beside the threads at low
 * priority, and footage that has just arrived is seen also while two long loops are being made.
 */
@Injectable()
export class JobQueues {
  /** Jobs that compute in the threads of the pool. */
  readonly threads = new TaskQueue(CORES, 'fair');
  /** Passes of a decoder over whole footage. */
  readonly decoder = new TaskQueue(PASSES);
}

import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { THREAD_ARGV } from '../processes/index.js';
import { CORES } from '../threads/index.js';

/** A thread that had nothing to do for so long ends, but for the first, ms. */
const IDLE_MS = 60_000;

/** The threads in which jobs run, as many as cores. */
@Injectable()
export class JobPool implements OnApplicationShutdown {
  private readonly pool = new Piscina({
    minThreads: 1,
    maxThreads: CORES,
    idleTimeout: IDLE_MS,
    execArgv: THREAD_ARGV,
  });

  /**
   * How many jobs run; threads that share their work with others look at it, so that no more are busy than
   * there are cores.
   */
  readonly running = new Int32Array(new SharedArrayBuffer(4));

  async run<Result>(task: unknown, options: Parameters<Piscina['run']>[1]): Promise<Result> {
    Atomics.add(this.running, 0, 1);
    try {
      return (await this.pool.run(task, options)) as Result;
    } finally {
      Atomics.sub(this.running, 0, 1);
    }
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool.destroy();
  }
}

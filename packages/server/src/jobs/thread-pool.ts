import { availableParallelism } from 'node:os';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { THREAD_ARGV } from '../threads/index.js';

/** Server worker threads, as many as cores. */
@Injectable()
export class ThreadPool implements OnApplicationShutdown {
  private readonly pool = new Piscina({
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism()),
    idleTimeout: 60_000,
    execArgv: THREAD_ARGV,
  });

  run<Result>(task: unknown, options: Parameters<Piscina['run']>[1]): Promise<Result> {
    return this.pool.run(task, options) as Promise<Result>;
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool.destroy();
  }
}

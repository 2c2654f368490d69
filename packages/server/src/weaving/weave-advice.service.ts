import type { WeaveAdvice, WeaveAdviceView, WeaveAsk } from '@muted-pond/core/api';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import { hashOfInputs, type WeaveAdviceTask, weaveAdviceInputs } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { PictureCache } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';

const WORKER = new URL(`./advise-weave.worker.${THREAD_ENDING}`, import.meta.url).href;

interface AdviceWish {
  readonly ask: WeaveAsk;
  readonly key: string;
}

/** Looks whether pieces can be woven, one of a piece at a time; what was found is kept in the cache. */
@Injectable()
export class WeaveAdviceService {
  private readonly looks: PieceJobs<AdviceWish, WeaveAdviceView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.looks = new PieceJobs<AdviceWish, WeaveAdviceView>(jobs, {
      name: 'weave-advice',
      priority: 'background',
      first: (piece, { key }) => ({
        ...{ piece, key, state: 'working', done: 0, advice: null, problem: null },
      }),
      tell: (advice) => events.tell({ type: 'weave-advice', advice }),
      run: async (piece, { ask, key }, signal, change) => {
        const task = await this.taskOf(piece, ask);
        const advice = await runInThread<number, WeaveAdvice | null>(
          pool,
          task,
          { filename: WORKER, signal },
          (done, tell) => change({ done }, tell),
        );
        await this.cache.put(
          task.files[0].hash,
          `weave-advice-${key}`,
          0,
          Buffer.from(JSON.stringify(advice)),
        );
        change({ state: 'done', done: 1, advice });
      },
    });
  }

  /** At once if it was looked at before; else it is begun, and events tell of it. */
  async request(piece: string, ask: WeaveAsk): Promise<WeaveAdviceView> {
    const task = await this.taskOf(piece, ask);
    const key = hashOfInputs(weaveAdviceInputs(task));
    const now = this.looks.current(piece);
    if (now?.key === key && now.state !== 'failed') return now;
    const kept = await this.cache.get(task.files[0].hash, `weave-advice-${key}`, 0);
    if (!kept) return this.looks.begin(piece, { ask, key });
    await this.looks.stop(piece);
    const advice = JSON.parse(kept.toString()) as WeaveAdvice | null;
    return { piece, key, state: 'done', done: 1, advice, problem: null };
  }

  stop(piece: string): Promise<void> {
    return this.looks.stop(piece);
  }

  private async taskOf(piece: string, { recipe, length, within }: WeaveAsk): Promise<WeaveAdviceTask> {
    return { ...(await this.pieces.taskOf(piece, recipe)), length, within };
  }
}

import type { WeaveAdvice, WeaveAdviceView } from '@muted-pond/core/api';
import { weaveAdviceKey } from '@muted-pond/core/derived';
import { takeOf } from '@muted-pond/core/recipe';
import type { WeaveAdviceAsk } from '@muted-pond/core/render';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import { sourceFile, type WeaveAdviceTask } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../processes/index.js';

/** Looks whether pieces can be woven, one of a piece at a time. */
@Injectable()
export class WeaveAdviceService {
  private readonly looks: ThreadJobs<WeaveAdviceAsk, WeaveAdviceTask, WeaveAdvice | null, WeaveAdviceView>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.looks = new ThreadJobs(
      { jobs, pool, cache },
      {
        name: 'weave-advice',
        priority: 'background',
        worker: new URL(`./advise-weave.worker.${THREAD_ENDING}`, import.meta.url).href,
        taskOf: async (piece, { recipe, length, within }) => ({
          ...(await pieces.taskOf(piece, recipe)),
          ...{ length, within },
        }),
        keyOf: (task) => weaveAdviceKey(task, takeOf(task.recipe, task.files.map(sourceFile))),
        keptWith: ({ files }) => files[0].hash,
        first: (job) => ({ ...job, advice: null }),
        result: (advice) => ({ advice }),
        tell: (advice) => events.tell({ type: 'weave-advice', advice }),
      },
    );
  }

  /** At once if it was looked at before; else it is begun, and events tell of it. */
  request(piece: string, ask: WeaveAdviceAsk): Promise<WeaveAdviceView> {
    return this.looks.request(piece, ask);
  }

  stop(piece: string): Promise<void> {
    return this.looks.stop(piece);
  }
}

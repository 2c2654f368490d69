import type { FitOffer, FitRequest, FitView } from '@muted-pond/core/api';
import { fitKey } from '@muted-pond/core/derived';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import type { FitTask, FittedFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import { TrialsService } from '../trials/index.js';

/** Looks for files of a recipe under a limit. */
export const FIT_WORKER = new URL(`./fit-files.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Looks for files under a limit, one search a piece; what is found becomes trials. */
@Injectable()
export class FitService {
  private readonly searches: ThreadJobs<FitRequest, FitTask, FittedFile[], FitView>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(TrialsService) trials: TrialsService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.searches = new ThreadJobs(
      { jobs, pool, cache },
      {
        name: 'fit',
        priority: 'fit',
        worker: FIT_WORKER,
        taskOf: async (piece, { recipe, limit }) => ({ ...(await pieces.taskOf(piece, recipe)), limit }),
        keyOf: ({ recipe, limit }) => fitKey(recipe, limit),
        // Trials that were found may have been deleted.
        isFleeting: true,
        first: (job) => ({ ...job, doing: 'waiting for its turn', offers: [] }),
        async result(found, { piece }) {
          const offers: FitOffer[] = [];
          for (const { kind, recipe, made, encodes } of found) {
            const trial = await trials.keep(piece, recipe, made);
            offers.push({ kind, trial: trial.id, encodes });
          }
          return { offers };
        },
        tell: (fit) => events.tell({ type: 'fit', fit }),
      },
    );
  }

  request(piece: string, ask: FitRequest): Promise<FitView> {
    return this.searches.request(piece, ask);
  }

  last(piece: string): Promise<FitView | null> {
    return this.searches.last(piece);
  }

  stop(piece: string): Promise<void> {
    return this.searches.stop(piece);
  }
}

import type { SavingsView } from '@muted-pond/core/api';
import { SAVING_FAMILIES, type SavingFamily, savingsKey } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import type { SavingsTask, TriedSavings } from './try-savings.js';

type Tries = ThreadJobs<Recipe, SavingsTask, TriedSavings, SavingsView>;

/** Tries out what would make a piece's file lighter, one change after the other. */
@Injectable()
export class SavingsService {
  private readonly tries: Record<SavingFamily, Tries>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    const open = (of: SavingFamily): Tries =>
      new ThreadJobs(
        { jobs, pool, cache },
        {
          name: of === 'settings' ? 'savings' : `savings-${of}`,
          priority: 'fit',
          worker: new URL(`./try-savings.worker.${THREAD_ENDING}`, import.meta.url).href,
          taskOf: async (piece, recipe) => ({ ...(await pieces.taskOf(piece, recipe)), of }),
          keyOf: ({ recipe }) => savingsKey(recipe, of),
          first: (job) => ({ ...job, of, doing: 'waiting for its turn', bytes: 0, savings: [] }),
          result: (tried) => tried,
          tell: (savings) => events.tell({ type: 'savings', savings }),
        },
      );
    this.tries = Object.fromEntries(SAVING_FAMILIES.map((of) => [of, open(of)])) as typeof this.tries;
  }

  request(piece: string, recipe: Recipe, of: SavingFamily): Promise<SavingsView> {
    return this.tries[of].request(piece, recipe);
  }

  stop(piece: string, of: SavingFamily): Promise<void> {
    return this.tries[of].stop(piece);
  }
}

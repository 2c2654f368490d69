import { SAVING_FAMILIES, type SavingFamily, type SavingsView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import type { MakingProgress, SavingsTask, TriedSavings } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';

const WORKER = new URL(`./try-savings.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Tries out what would make a piece's file lighter, one change after the other. */
@Injectable()
export class SavingsService {
  private readonly tries: Record<SavingFamily, PieceJobs<Recipe, SavingsView>>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    const open = (of: SavingFamily) =>
      new PieceJobs<Recipe, SavingsView>(jobs, {
        name: of === 'settings' ? 'savings' : `savings-${of}`,
        priority: 'fit',
        first: (piece) => ({
          ...{ piece, of, state: 'working', done: 0, doing: 'waiting for its turn' },
          ...{ bytes: 0, savings: [], problem: null },
        }),
        tell: (savings) => events.tell({ type: 'savings', savings }),
        run: async (piece, recipe, signal, change) => {
          const task: SavingsTask = { ...(await this.pieces.taskOf(piece, recipe)), of };
          const tried = await runInThread<MakingProgress, TriedSavings>(
            pool,
            task,
            { filename: WORKER, signal },
            (progress, tell) => change(progress, tell),
          );
          change({ state: 'done', done: 1, ...tried });
        },
      });
    this.tries = Object.fromEntries(SAVING_FAMILIES.map((of) => [of, open(of)])) as typeof this.tries;
  }

  async begin(piece: string, recipe: Recipe, of: SavingFamily): Promise<SavingsView> {
    await this.pieces.taskOf(piece, recipe);
    return this.tries[of].begin(piece, recipe);
  }

  stop(piece: string, of: SavingFamily): Promise<void> {
    return this.tries[of].stop(piece);
  }
}

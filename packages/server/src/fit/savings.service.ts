import type { Saving, SavingsView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import type { MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';

const WORKER = new URL(`./try-savings.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Tries out what would make a piece's file lighter, one change after the other. */
@Injectable()
export class SavingsService {
  private readonly tries: PieceJobs<Recipe, SavingsView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.tries = new PieceJobs<Recipe, SavingsView>(jobs, {
      name: 'savings',
      priority: 'fit',
      first: (piece) => ({
        ...{ piece, state: 'working', done: 0, doing: 'waiting for its turn' },
        ...{ bytes: 0, savings: [], problem: null },
      }),
      tell: (savings) => events.tell({ type: 'savings', savings }),
      run: async (piece, recipe, signal, change) => {
        const tried = await runInThread<MakingProgress, { bytes: number; savings: readonly Saving[] }>(
          pool,
          await this.pieces.taskOf(piece, recipe),
          { filename: WORKER, signal },
          (progress, tell) => change(progress, tell),
        );
        change({ state: 'done', done: 1, ...tried });
      },
    });
  }

  async begin(piece: string, recipe: Recipe): Promise<SavingsView> {
    await this.pieces.taskOf(piece, recipe);
    return this.tries.begin(piece, recipe);
  }

  stop(piece: string): Promise<void> {
    return this.tries.stop(piece);
  }
}

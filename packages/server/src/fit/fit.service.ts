import type { FitOffer, FitView, LimitValues } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import type { FitTask, FittedFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { TrialsService } from '../trials/index.js';

/** Looks for files of a recipe under a limit. */
export const FIT_WORKER = new URL(`./fit-files.worker.${THREAD_ENDING}`, import.meta.url).href;

interface FitWish {
  readonly recipe: Recipe;
  readonly limit: LimitValues;
}

/** Looks for files under a limit, one search a piece; what is found becomes trials. */
@Injectable()
export class FitService {
  private readonly searches: PieceJobs<FitWish, FitView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.searches = new PieceJobs<FitWish, FitView>(jobs, {
      name: 'fit',
      priority: 'fit',
      first: (piece) => ({
        ...{ piece, state: 'working', done: 0, doing: 'waiting for its turn', offers: [], problem: null },
      }),
      tell: (fit) => events.tell({ type: 'fit', fit }),
      run: async (piece, { recipe, limit }, signal, change) => {
        const task: FitTask = { ...(await this.pieces.taskOf(piece, recipe)), limit };
        const found = await runInThread<MakingProgress, FittedFile[]>(
          pool,
          task,
          { filename: FIT_WORKER, signal },
          (progress, tell) => change(progress, tell),
        );
        const offers: FitOffer[] = [];
        for (const { kind, recipe: fitted, made, encodes } of found) {
          const trial = await this.trials.keep(piece, fitted, made);
          offers.push({ kind, trial: trial.id, encodes });
        }
        change({ state: 'done', done: 1, offers });
      },
    });
  }

  async begin(piece: string, recipe: Recipe, limit: LimitValues): Promise<FitView> {
    // What cannot be made is refused before anything is begun.
    await this.pieces.taskOf(piece, recipe);
    return this.searches.begin(piece, { recipe, limit });
  }

  last(piece: string): Promise<FitView | null> {
    return this.searches.last(piece);
  }

  stop(piece: string): Promise<void> {
    return this.searches.stop(piece);
  }
}

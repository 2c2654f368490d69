import type { WeavingView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { wishedWeaves } from '@muted-pond/core/render';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import { type MakingTask, type WovenParts, weaveInputs } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';

const WORKER = new URL(`./weave-recipe.worker.${THREAD_ENDING}`, import.meta.url).href;

interface WeavingWish {
  readonly recipe: Recipe;
  readonly key: string;
}

/** Weaves what recipes ask for, one of a piece at a time; what was woven is kept in the cache by the maker. */
@Injectable()
export class WeavingService {
  private readonly weaving: PieceJobs<WeavingWish, WeavingView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.weaving = new PieceJobs<WeavingWish, WeavingView>(jobs, {
      name: 'weaving',
      priority: 'hand',
      first: (piece, { key }) => ({
        ...{ piece, key, state: 'working', done: 0, parts: null, problem: null },
      }),
      tell: (weaving) => events.tell({ type: 'weaving', weaving }),
      run: async (piece, { recipe }, signal, change) => {
        const task: MakingTask = await this.pieces.taskOf(piece, recipe);
        const parts = await runInThread<number, WovenParts>(
          pool,
          task,
          { filename: WORKER, signal },
          (done, tell) => change({ done }, tell),
        );
        change({ state: 'done', done: 1, parts });
      },
    });
  }

  /** What is being made of the same, or a new beginning; events tell of it. */
  async request(piece: string, recipe: Recipe): Promise<WeavingView> {
    const key = weaveInputs(await this.pieces.taskOf(piece, recipe));
    if (wishedWeaves(recipe).length === 0) {
      await this.weaving.stop(piece);
      return { piece, key, state: 'done', done: 1, parts: {}, problem: null };
    }
    const now = this.weaving.current(piece);
    if (now?.key === key && now.state !== 'failed') return now;
    return this.weaving.begin(piece, { recipe, key });
  }

  stop(piece: string): Promise<void> {
    return this.weaving.stop(piece);
  }
}

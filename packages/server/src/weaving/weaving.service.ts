import type { WeavingView } from '@muted-pond/core/api';
import { weavingKey } from '@muted-pond/core/derived';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import { type MakingTask, sourceFile, type WovenParts } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../processes/index.js';

/** Weaves what recipes ask for, one of a piece at a time; the maker keeps each weave in the cache. */
@Injectable()
export class WeavingService {
  private readonly weaving: ThreadJobs<Recipe, MakingTask, WovenParts, WeavingView>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.weaving = new ThreadJobs(
      { jobs, pool, cache },
      {
        name: 'weaving',
        priority: 'hand',
        worker: new URL(`./weave-recipe.worker.${THREAD_ENDING}`, import.meta.url).href,
        taskOf: (piece, recipe) => pieces.taskOf(piece, recipe),
        keyOf: ({ recipe, files }) => weavingKey(recipe, takeOf(recipe, files.map(sourceFile))),
        first: (job) => ({ ...job, parts: null }),
        result: (parts) => ({ parts }),
        tell: (weaving) => events.tell({ type: 'weaving', weaving }),
      },
    );
  }

  /** What is being made of the same, or a new beginning; events tell of it. */
  request(piece: string, recipe: Recipe): Promise<WeavingView> {
    return this.weaving.request(piece, recipe);
  }

  stop(piece: string): Promise<void> {
    return this.weaving.stop(piece);
  }
}

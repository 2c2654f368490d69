import type { HoldingFigures, HoldingView } from '@muted-pond/core/api';
import { holdingKey } from '@muted-pond/core/derived';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import { type MakingTask, sourceFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../processes/index.js';

/** Measures how frames are held still, one recipe of a piece at a time. */
@Injectable()
export class HoldingService {
  private readonly measurements: ThreadJobs<Recipe, MakingTask, HoldingFigures, HoldingView>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.measurements = new ThreadJobs(
      { jobs, pool, cache },
      {
        name: 'holding',
        priority: 'hand',
        worker: new URL(`./measure-holding.worker.${THREAD_ENDING}`, import.meta.url).href,
        taskOf: (piece, recipe) => pieces.taskOf(piece, recipe),
        keyOf: ({ recipe, files }) => holdingKey(recipe, takeOf(recipe, files.map(sourceFile))),
        keptWith: ({ files }) => files[0].hash,
        first: (job) => ({ ...job, figures: null }),
        result: (figures) => ({ figures }),
        tell: (holding) => events.tell({ type: 'holding', holding }),
      },
    );
  }

  /** At once if it was measured before; else it is begun, and events tell of it. */
  request(piece: string, recipe: Recipe): Promise<HoldingView> {
    return this.measurements.request(piece, recipe);
  }

  stop(piece: string): Promise<void> {
    return this.measurements.stop(piece);
  }
}

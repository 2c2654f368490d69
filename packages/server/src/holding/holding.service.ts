import type { HoldingFigures, HoldingView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { stepsKey } from '@muted-pond/core/render';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../disk/index.js';
import { JobPool, Jobs, KeptPieceJobs, PondEvents } from '../jobs/index.js';
import { hashOfInputs, type MakingTask, MEASURED_SIDE, planHolding } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';

/** Measures how frames are held still, one recipe of a piece at a time. */
@Injectable()
export class HoldingService {
  private readonly measurements: KeptPieceJobs<Recipe, MakingTask, HoldingFigures, HoldingView>;

  constructor(
    @Inject(PiecesService) pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.measurements = new KeptPieceJobs(
      { jobs, pool, cache },
      {
        name: 'holding',
        priority: 'hand',
        worker: new URL(`./measure-holding.worker.${THREAD_ENDING}`, import.meta.url).href,
        taskOf: (piece, recipe) => pieces.taskOf(piece, recipe),
        // What is measured depends on what the steps depend on, in the size of the measurement.
        keyOf: (task) => hashOfInputs(stepsKey(planHolding(task), MEASURED_SIDE)),
        fileOf: ({ files }) => files[0].hash,
        view: (job, figures) => ({ ...job, figures }),
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

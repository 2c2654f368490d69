import type { FitOffer, FitView, LimitValues } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { FitTask, FittedFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { TrialsService } from '../trials/index.js';
import { PieceJobs, PondEvents, runTold, WorkerPool } from '../work/index.js';

const WORKER = new URL(`./fit-files.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Looks for files under a limit, one search a piece; what is found becomes trials. */
@Injectable()
export class FitService implements OnApplicationShutdown {
  private readonly jobs = new PieceJobs<FitView>('fit', (fit) => this.events.tell({ type: 'fit', fit }));

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    this.jobs.stopAll();
  }

  async begin(piece: string, recipe: Recipe, limit: LimitValues): Promise<FitView> {
    const task: FitTask = { ...(await this.pieces.taskOf(piece, recipe)), limit };
    const first: FitView = {
      ...{ piece, state: 'working', done: 0, doing: 'waiting for its turn', offers: [], problem: null },
    };
    return this.jobs.begin(first, async (signal, change) => {
      const told = await runTold<MakingProgress, FittedFile[]>(
        this.pool,
        task,
        { filename: WORKER, signal },
        (progress, tell) => change(progress, tell),
      );
      if (told.type === 'refused') return change({ state: 'failed', problem: told.message });
      const offers: FitOffer[] = [];
      for (const { kind, recipe: fitted, made, encodes } of told.made) {
        const trial = await this.trials.keep(piece, fitted, made);
        offers.push({ kind, trial: trial.id, encodes });
      }
      change({ state: 'done', done: 1, offers });
    });
  }

  last(piece: string): FitView | null {
    return this.jobs.last(piece);
  }

  stop(piece: string): void {
    this.jobs.stop(piece);
  }
}

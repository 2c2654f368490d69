import type { Saving, SavingsView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { PieceJobs, PondEvents, runTold, WorkerPool } from '../work/index.js';

const WORKER = new URL(`./try-savings.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Tries out what would make a piece's file lighter, one change after the other. */
@Injectable()
export class SavingsService implements OnApplicationShutdown {
  private readonly jobs = new PieceJobs<SavingsView>('savings', (savings) =>
    this.events.tell({ type: 'savings', savings }),
  );

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    this.jobs.stopAll();
  }

  async begin(piece: string, recipe: Recipe): Promise<SavingsView> {
    const task = await this.pieces.taskOf(piece, recipe);
    const first: SavingsView = {
      ...{ piece, state: 'working', done: 0, doing: 'waiting for its turn' },
      ...{ bytes: 0, savings: [], problem: null },
    };
    return this.jobs.begin(first, async (signal, change) => {
      const told = await runTold<MakingProgress, { bytes: number; savings: readonly Saving[] }>(
        this.pool,
        task,
        { filename: WORKER, signal },
        (progress, tell) => change(progress, tell),
      );
      if (told.type === 'refused') change({ state: 'failed', problem: told.message });
      else change({ state: 'done', done: 1, ...told.made });
    });
  }

  stop(piece: string): void {
    this.jobs.stop(piece);
  }
}

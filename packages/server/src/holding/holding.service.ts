import { createHash } from 'node:crypto';
import type { HoldingFigures, HoldingView } from '@muted-pond/core/api';
import { type Recipe, sourceHashes } from '@muted-pond/core/recipe';
import { ENGINE_VERSION, stepsKey } from '@muted-pond/core/render';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { type MakingTask, MEASURED_SIDE, planHolding } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { PictureCache } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { PieceJobs, PondEvents, runTold, WorkerPool } from '../work/index.js';

const WORKER = new URL(`./measure-holding.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Measures how frames are held still, one recipe of a piece at a time; what was measured is kept in the cache. */
@Injectable()
export class HoldingService implements OnApplicationShutdown {
  private readonly jobs = new PieceJobs<HoldingView>('holding', (holding) =>
    this.events.tell({ type: 'holding', holding }),
  );

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    this.jobs.stopAll();
  }

  /** At once if it was measured before; else it is begun, and events tell of it. */
  async request(piece: string, recipe: Recipe): Promise<HoldingView> {
    const task = await this.pieces.taskOf(piece, recipe);
    const key = keyOf(task);
    const now = this.jobs.last(piece);
    if (now?.key === key && now.state === 'working') return now;
    const [source] = sourceHashes(recipe);
    const kind = `holding-${key}`;
    const kept = await this.cache.get(source, kind, 0);
    if (kept) {
      this.jobs.stop(piece);
      const figures = JSON.parse(kept.toString()) as HoldingFigures;
      return { piece, key, state: 'done', done: 1, figures, problem: null };
    }
    const first: HoldingView = { piece, key, state: 'working', done: 0, figures: null, problem: null };
    return this.jobs.begin(first, async (signal, change) => {
      const told = await runTold<number, HoldingFigures>(
        this.pool,
        task,
        { filename: WORKER, signal },
        (done, tell) => change({ done }, tell),
      );
      if (told.type === 'refused') return change({ state: 'failed', problem: told.message });
      await this.cache.put(source, kind, 0, Buffer.from(JSON.stringify(told.made)));
      change({ state: 'done', done: 1, figures: told.made });
    });
  }

  stop(piece: string): void {
    this.jobs.stop(piece);
  }
}

/** What is measured depends on what the steps depend on, in the size of the measurement. */
function keyOf(task: MakingTask): string {
  const inputs = stepsKey(planHolding(task), [ENGINE_VERSION, MEASURED_SIDE]);
  return createHash('sha256').update(inputs).digest('hex').slice(0, 32);
}

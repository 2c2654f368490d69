import { createHash } from 'node:crypto';
import type { HoldingFigures, HoldingView } from '@muted-pond/core/api';
import { type Recipe, sourceHashes } from '@muted-pond/core/recipe';
import { ENGINE_VERSION, stepsKey } from '@muted-pond/core/render';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import { type MakingTask, MEASURED_SIDE, planHolding } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { PictureCache } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';

const WORKER = new URL(`./measure-holding.worker.${THREAD_ENDING}`, import.meta.url).href;

interface HoldingWish {
  readonly recipe: Recipe;
  readonly key: string;
}

/**
 * Measures how frames are held still, one recipe of a piece at a time; what was measured is kept in the
 * cache.
 */
@Injectable()
export class HoldingService {
  private readonly measurements: PieceJobs<HoldingWish, HoldingView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.measurements = new PieceJobs<HoldingWish, HoldingView>(jobs, {
      name: 'holding',
      priority: 'hand',
      first: (piece, { key }) => ({
        ...{ piece, key, state: 'working', done: 0, figures: null, problem: null },
      }),
      tell: (holding) => events.tell({ type: 'holding', holding }),
      run: async (piece, { recipe, key }, signal, change) => {
        const figures = await runInThread<number, HoldingFigures>(
          pool,
          await this.pieces.taskOf(piece, recipe),
          { filename: WORKER, signal },
          (done, tell) => change({ done }, tell),
        );
        await this.cache.put(...placeOf(recipe, key), Buffer.from(JSON.stringify(figures)));
        change({ state: 'done', done: 1, figures });
      },
    });
  }

  /** At once if it was measured before; else it is begun, and events tell of it. */
  async request(piece: string, recipe: Recipe): Promise<HoldingView> {
    const key = keyOf(await this.pieces.taskOf(piece, recipe));
    const now = this.measurements.current(piece);
    if (now?.key === key && now.state === 'working') return now;
    const kept = await this.cache.get(...placeOf(recipe, key));
    if (!kept) return this.measurements.begin(piece, { recipe, key });
    await this.measurements.stop(piece);
    const figures = JSON.parse(kept.toString()) as HoldingFigures;
    return { piece, key, state: 'done', done: 1, figures, problem: null };
  }

  stop(piece: string): Promise<void> {
    return this.measurements.stop(piece);
  }
}

function placeOf(recipe: Recipe, key: string): [footage: string, kind: string, index: number] {
  return [sourceHashes(recipe)[0], `holding-${key}`, 0];
}

/** What is measured depends on what the steps depend on, in the size of the measurement. */
function keyOf(task: MakingTask): string {
  const inputs = stepsKey(planHolding(task), [ENGINE_VERSION, MEASURED_SIDE]);
  return createHash('sha256').update(inputs).digest('hex').slice(0, 32);
}

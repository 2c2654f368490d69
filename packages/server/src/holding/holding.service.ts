import { createHash } from 'node:crypto';
import type { HoldingFigures, HoldingView } from '@muted-pond/core/api';
import { type Recipe, sourceHashes, takeOf } from '@muted-pond/core/recipe';
import { ENGINE_VERSION, planRender } from '@muted-pond/core/render';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { type MakingTask, sourceFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { toProblem } from '../problems/index.js';
import { PictureCache } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { PondEvents, runTold, WorkerPool } from '../work/index.js';

const WORKER = new URL(`./measure-holding.worker.${THREAD_ENDING}`, import.meta.url).href;

interface Measuring {
  view: HoldingView;
  readonly abort: AbortController;
}

/** Measures how frames are held still, one recipe of a piece at a time; what was measured is kept in the cache. */
@Injectable()
export class HoldingService implements OnApplicationShutdown {
  private readonly log = new Logger('holding');
  private readonly measuring = new Map<string, Measuring>();

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    for (const { abort } of this.measuring.values()) abort.abort();
  }

  /** At once if it was measured before; else it is begun, and events tell of it. */
  async request(piece: string, recipe: Recipe): Promise<HoldingView> {
    await this.pieces.get(piece);
    const files = await this.pieces.filesOf(recipe);
    const layers = await this.pieces.layersOf(recipe);
    const task: MakingTask = { files, layers, recipe };
    const key = keyOf(task);
    const now = this.measuring.get(piece);
    if (now?.view.key === key) return now.view;
    now?.abort.abort();
    const [source] = sourceHashes(recipe);
    const kind = `holding-${key}`;
    const kept = await this.cache.get(source, kind, 0);
    if (kept) {
      const figures = JSON.parse(kept.toString()) as HoldingFigures;
      return { piece, key, state: 'done', done: 1, figures, problem: null };
    }
    const view: HoldingView = { piece, key, state: 'working', done: 0, figures: null, problem: null };
    const measuring = { view, abort: new AbortController() };
    this.measuring.set(piece, measuring);
    void this.measure(measuring, task, (figures) =>
      this.cache.put(source, kind, 0, Buffer.from(JSON.stringify(figures))),
    );
    return view;
  }

  stop(piece: string): void {
    this.measuring.get(piece)?.abort.abort();
  }

  private async measure(
    measuring: Measuring,
    task: MakingTask,
    keep: (figures: HoldingFigures) => Promise<void>,
  ): Promise<void> {
    const { signal } = measuring.abort;
    const change = (part: Partial<HoldingView>, tell = true) => {
      measuring.view = { ...measuring.view, ...part };
      if (tell) this.events.tell({ type: 'holding', holding: measuring.view });
    };
    try {
      const told = await runTold<number, HoldingFigures>(
        this.pool,
        task,
        { filename: WORKER, signal },
        (done, tell) => change({ done }, tell),
      );
      if (told.type === 'refused') change({ state: 'failed', problem: told.message });
      else {
        await keep(told.made);
        change({ state: 'done', done: 1, figures: told.made });
      }
    } catch (error) {
      if (signal.aborted) return; // another was asked for
      this.log.error(error instanceof Error ? error.stack : String(error));
      change({ state: 'failed', problem: toProblem(error).message });
    } finally {
      const { piece } = measuring.view;
      if (this.measuring.get(piece) === measuring) this.measuring.delete(piece);
    }
  }
}

/** What is measured depends on what is held, on the frames that are shown and on where they come from. */
function keyOf({ files, recipe }: MakingTask): string {
  const { still } = planRender(recipe, takeOf(recipe, files.map(sourceFile)));
  const frames = still?.layers.map(({ reel }) => reel.map(({ source, blend }) => [source, blend?.source]));
  const ripples = recipe.still.ripples.map(({ name: _, ...ripple }) => ripple);
  const asked = [ENGINE_VERSION, sourceHashes(recipe), { ...recipe.still, ripples }, frames];
  return createHash('sha256').update(JSON.stringify(asked)).digest('hex').slice(0, 32);
}

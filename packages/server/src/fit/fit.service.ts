import type { FitOffer, FitView, LimitValues } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { FitTask, FittedFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { toProblem } from '../problems/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { TrialsService } from '../trials/index.js';
import { PondEvents, runTold, WorkerPool } from '../work/index.js';

const WORKER = new URL(`./fit-files.worker.${THREAD_ENDING}`, import.meta.url).href;

interface Fitting {
  view: FitView;
  readonly abort: AbortController;
}

/** Looks for files under a limit, one search a piece; what is found becomes trials. */
@Injectable()
export class FitService implements OnApplicationShutdown {
  private readonly log = new Logger('fit');
  private readonly fittings = new Map<string, Fitting>();

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    for (const { abort } of this.fittings.values()) abort.abort();
  }

  async begin(piece: string, recipe: Recipe, limit: LimitValues): Promise<FitView> {
    await this.pieces.get(piece);
    const files = await this.pieces.filesOf(recipe);
    const layers = await this.pieces.layersOf(recipe);
    this.fittings.get(piece)?.abort.abort();
    const view: FitView = {
      ...{ piece, state: 'working', done: 0, doing: 'waiting for its turn', offers: [], problem: null },
    };
    const fitting = { view, abort: new AbortController() };
    this.fittings.set(piece, fitting);
    void this.fit(fitting, { files, layers, recipe, limit });
    return view;
  }

  last(piece: string): FitView | null {
    return this.fittings.get(piece)?.view ?? null;
  }

  stop(piece: string): void {
    this.fittings.get(piece)?.abort.abort();
    this.fittings.delete(piece);
  }

  private async fit(fitting: Fitting, task: FitTask): Promise<void> {
    const { signal } = fitting.abort;
    const change = (part: Partial<FitView>, tell = true) => {
      fitting.view = { ...fitting.view, ...part };
      if (tell) this.events.tell({ type: 'fit', fit: fitting.view });
    };
    try {
      const told = await runTold<MakingProgress, FittedFile[]>(
        this.pool,
        task,
        { filename: WORKER, signal },
        (progress, tell) => change(progress, tell),
      );
      if (told.type === 'refused') return change({ state: 'failed', problem: told.message });
      const offers: FitOffer[] = [];
      for (const { kind, recipe, made, encodes } of told.made) {
        const trial = await this.trials.keep(fitting.view.piece, recipe, made);
        offers.push({ kind, trial: trial.id, encodes });
      }
      change({ state: 'done', done: 1, offers });
    } catch (error) {
      if (signal.aborted) return; // whoever stopped it has seen to it
      this.log.error(error instanceof Error ? error.stack : String(error));
      change({ state: 'failed', problem: toProblem(error).message });
    }
  }
}

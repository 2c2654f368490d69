import type { TrialChange, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { fileForm } from '@muted-pond/core/files';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import PQueue from 'p-queue';
import { filter, firstValueFrom } from 'rxjs';
import { BlobStore } from '../blobs/index.js';
import { JobPool, Jobs, PondEvents, runInThread } from '../jobs/index.js';
import type { MadeFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { Problem, problemSentence } from '../problems/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import { SeenLikenessService } from './seen-likeness.service.js';
import type { Trial } from './trial.entity.js';
import { type TrialEnd, TrialRows, UNFINISHED } from './trial-rows.js';
import { letterOf, trialView, upToDate } from './trial-view.js';
import {
  MAKING_PRIORITIES,
  type Making,
  type MakingPriority,
  TrialsInProgress,
  type UnmeasuredFile,
} from './trials-in-progress.js';

/** Makes the file of one recipe. */
export const MAKE_TRIAL_WORKER = new URL(`./make-trial.worker.${THREAD_ENDING}`, import.meta.url).href;

interface TrialJob {
  readonly trial: string;
}

function jobKindOf(priority: MakingPriority): string {
  return priority === 'trial' ? 'trial' : `trial-${priority}`;
}

/** Has the files of recipes made, and keeps them: one of a piece at a time, each file once. */
@Injectable()
export class TrialsService implements OnApplicationBootstrap {
  private readonly log = new Logger('trials');
  private readonly inProgress = new TrialsInProgress();
  /** Requests of each piece that wait for one another. */
  private readonly turns = new Map<string, PQueue>();

  constructor(
    @Inject(TrialRows) private readonly rows: TrialRows,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(JobPool) private readonly pool: JobPool,
    @Inject(Jobs) private readonly jobs: Jobs,
    @Inject(PondEvents) private readonly events: PondEvents,
    @Inject(SeenLikenessService) private readonly likeness: SeenLikenessService,
  ) {
    this.likeness.measured.subscribe((row) => this.tell(row));
    for (const priority of MAKING_PRIORITIES) {
      this.jobs.define<TrialJob>({
        name: jobKindOf(priority),
        priority,
        run: ({ trial }, { id, signal }) => this.make(trial, { job: id, priority }, signal),
        interrupted: ({ trial }) => this.interrupt([trial]),
      });
    }
  }

  /**
   * What waited when the server stopped goes on; a trial that nobody will make any more is marked, and can be
   * asked for again.
   */
  async onApplicationBootstrap(): Promise<void> {
    const rows = await this.rows.unfinished();
    const jobs = await Promise.all(
      MAKING_PRIORITIES.map((priority) => this.jobs.payloads<TrialJob>(jobKindOf(priority))),
    );
    const waiting = new Set(jobs.flat().map(({ trial }) => trial));
    await this.interrupt(rows.map(({ id }) => id).filter((id) => !waiting.has(id)));
  }

  private interrupt(ids: readonly string[]): Promise<void> {
    return this.rows.interrupt(ids, 'The server stopped while this was made. Make it again.');
  }

  async list(pieceId: string): Promise<TrialView[]> {
    const rows = await this.rows.ofPiece(pieceId);
    // Those of earlier versions were not measured so.
    this.likeness.keepComparable(pieceId);
    return rows.map((row) => this.viewOf(row));
  }

  /**
   * What the shelf plays: for each piece the trial of its present recipe, or else its newest finished one, or
   * the one in the making.
   */
  async shown(): Promise<TrialView[]> {
    const pieces = await this.pieces.list();
    const files = new Map(
      pieces.map((piece) => [piece.id, 'recipe' in piece ? fileKey(piece.recipe) : ''] as const),
    );
    return (await this.rows.shownOf(files)).map((row) => this.viewOf(row));
  }

  /**
   * The file a recipe makes: at once if it was made before, else a trial in the making.
   * @param priority `batch` where many are asked for, and nobody waits for one of them.
   */
  request(pieceId: string, recipe: Recipe, priority: MakingPriority = 'trial'): Promise<TrialView> {
    return this.inTurn(pieceId, () => this.requestNow(pieceId, recipe, priority));
  }

  private async requestNow(pieceId: string, recipe: Recipe, priority: MakingPriority): Promise<TrialView> {
    const same = await this.rows.ofFile(pieceId, recipe);
    if (same && UNFINISHED.includes(same.state)) {
      const isAwaited = priority === 'trial' && this.inProgress.isWaitingAs('batch', same.id);
      return isAwaited ? this.enqueue(same, priority) : this.viewOf(same);
    }
    if (same && (await this.rows.hasFile(same))) return this.viewOf(same);
    // Before anything is changed: a row that is made anew keeps its pin and name also when it cannot be.
    await this.pieces.taskOf(pieceId, recipe);
    await this.cancelUnfinished(pieceId);
    const row = same ? await this.rows.makeAnew(same) : await this.rows.add(pieceId, recipe);
    return this.enqueue(row, priority);
  }

  /** Has the file of a row made; where that waits already, with another priority. */
  private async enqueue(row: Trial, priority: MakingPriority): Promise<TrialView> {
    await this.stopMaking(row.id);
    const making = this.inProgress.begin(row.id, priority);
    this.tell(row);
    const { pieceId } = row;
    const { id } = await this.jobs.add<TrialJob>(jobKindOf(priority), pieceId, { trial: row.id });
    // It may have been stopped, or made, meanwhile.
    if (this.inProgress.isNewest(making)) making.job = id;
    else await this.jobs.stop(id);
    return this.viewOf(row);
  }

  /** Resolves when a trial is no longer in the making, whichever way that ended. */
  async finished(id: string): Promise<void> {
    if (!this.inProgress.has(id)) return;
    await firstValueFrom(
      this.events.stream.pipe(
        filter(
          (event) =>
            (event.type === 'trial' && event.trial.id === id && !UNFINISHED.includes(event.trial.state)) ||
            (event.type === 'trial-gone' && event.id === id),
        ),
      ),
    );
  }

  async change(id: string, change: TrialChange): Promise<TrialView> {
    const row = await this.rows.change(id, change);
    this.tell(row);
    return this.viewOf(row);
  }

  /** Keeps a finished file that was made elsewhere, or finds the one of the same recipe. */
  keep(pieceId: string, recipe: Recipe, made: MadeFile): Promise<TrialView> {
    return this.inTurn(pieceId, () => this.keepNow(pieceId, recipe, made));
  }

  private async keepNow(pieceId: string, recipe: Recipe, made: MadeFile): Promise<TrialView> {
    const same = await this.rows.ofFile(pieceId, recipe);
    if (same && (await this.rows.hasFile(same))) return this.viewOf(same);
    const end = await this.store(made);
    if (same) await this.stopMaking(same.id);
    const row = { ...(same ?? (await this.rows.add(pieceId, recipe))), ...end };
    await this.finish(row, end);
    return this.viewOf(row);
  }

  /** The finished file of a recipe where there is one that was made before. */
  async finishedOf(pieceId: string, recipe: Recipe): Promise<TrialView | null> {
    const same = await this.rows.ofFile(pieceId, recipe);
    return same && (await this.rows.hasFile(same)) ? this.viewOf(same) : null;
  }

  /** Stops it if it is being made, and forgets it. */
  async delete(id: string): Promise<void> {
    const row = await this.rows.find(id);
    if (row) await this.remove(row);
  }

  async view(id: string): Promise<TrialView> {
    return this.viewOf(await this.rows.get(id));
  }

  /** The finished file. */
  async file(id: string): Promise<{ trial: Trial; path: string }> {
    const trial = await this.rows.get(id);
    if (trial.state !== 'done' || !trial.blob) {
      throw new Problem(409, 'not_finished', 'This trial is not finished yet.');
    }
    if (!(await this.blobs.has(trial.blob))) {
      throw new Problem(
        410,
        'file_gone',
        'The file of this trial is gone from the disk. Make it again in Weigh.',
      );
    }
    await this.blobs.assertWhole(trial.blob, `trial ${letterOf(trial.ordinal)}`);
    return { trial, path: this.blobs.pathOf(trial.blob) };
  }

  /** The file of a trial that is still being measured; null where it is not there yet, or is measured. */
  unmeasuredFile(id: string): UnmeasuredFile | null {
    return this.inProgress.unmeasuredFile(id);
  }

  /** What adds rows to a piece, one after the other: two at once would find the same letter free. */
  private inTurn<Result>(pieceId: string, work: () => Promise<Result>): Promise<Result> {
    const queue = this.turns.get(pieceId) ?? new PQueue({ concurrency: 1 });
    this.turns.set(pieceId, queue);
    const result = queue.add(work) as Promise<Result>;
    return result.finally(() => {
      if (queue.size === 0 && queue.pending === 0) this.turns.delete(pieceId);
    });
  }

  private async make(
    id: string,
    of: { readonly job: string; readonly priority: MakingPriority },
    signal: AbortSignal,
  ): Promise<void> {
    const row = await this.rows.find(id);
    // It may have been stopped meanwhile: the making that is known by then is another one.
    if (!row || signal.aborted) return;
    const making = this.inProgress.takeUp(id, of);
    try {
      const end = await this.endOf(row, making, signal);
      if (signal.aborted) return; // whoever stopped it has seen to its row
      await this.finish({ ...row, ...end }, end);
    } catch (error) {
      if (signal.aborted) return;
      // What cannot be written down now is seen as interrupted at the next start.
      this.tell({ ...row, state: 'failed', problem: problemSentence(error, this.log) });
    } finally {
      this.inProgress.end(making);
    }
  }

  /** How the making of a file ends; what goes wrong is an end as well. */
  private async endOf(row: Trial, making: Making, signal: AbortSignal): Promise<TrialEnd> {
    const recipe = upToDate(row.recipe);
    try {
      const made = await runInThread<MakingProgress, MadeFile>(
        this.pool,
        await this.pieces.taskOf(row.pieceId, recipe),
        { filename: MAKE_TRIAL_WORKER, signal },
        ({ file, ...progress }, tell) => {
          making.progress = progress;
          if (file) making.file = { ...file, mime: fileForm(recipe.weigh).mime };
          if (tell || file) this.tell({ ...row, state: 'working' });
        },
      );
      return await this.store(made);
    } catch (error) {
      if (signal.aborted) throw error;
      return { state: 'failed', problem: problemSentence(error, this.log) };
    }
  }

  private async store({ bytes, figures }: MadeFile): Promise<TrialEnd> {
    return { state: 'done', figures, seen: null, blob: await this.blobs.put(bytes), problem: null };
  }

  private async stopMaking(id: string): Promise<void> {
    const job = this.inProgress.forget(id);
    if (job) await this.jobs.stop(job);
  }

  private async finish(row: Trial, end: TrialEnd): Promise<void> {
    // It may have been deleted while its last bytes were written.
    if (!(await this.rows.end(row.id, end))) return;
    this.tell(row);
    const isMade = (id: string) => id !== row.id && this.inProgress.has(id);
    for (const one of await this.rows.excess(row.pieceId, isMade)) await this.remove(one);
    this.likeness.keepComparable(row.pieceId);
  }

  private async cancelUnfinished(pieceId: string): Promise<void> {
    for (const row of await this.rows.unfinished(pieceId)) {
      if (row.pinned || row.name !== null) await this.setAside(row);
      else await this.remove(row);
    }
  }

  /** What somebody pinned or named stays, and can be made again. */
  private async setAside(row: Trial): Promise<void> {
    const problem = 'It was stopped by a newer change. Make it again.';
    await this.stopMaking(row.id);
    await this.rows.interrupt([row.id], problem);
    this.tell({ ...row, state: 'interrupted', problem });
  }

  private async remove(row: Trial): Promise<void> {
    await this.stopMaking(row.id);
    await this.rows.delete(row.id);
    this.events.tell({ type: 'trial-gone', piece: row.pieceId, id: row.id });
  }

  private viewOf(row: Trial): TrialView {
    const progress = UNFINISHED.includes(row.state) ? this.inProgress.progressOf(row.id) : null;
    return trialView(row, progress);
  }

  private tell(row: Trial): void {
    this.events.tell({ type: 'trial', trial: this.viewOf(row) });
  }
}

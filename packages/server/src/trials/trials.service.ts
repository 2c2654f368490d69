import { randomUUID } from 'node:crypto';
import type { SeenLikeness, TrialChange, TrialProgress, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { fileForm } from '@muted-pond/core/files';
import { type Recipe, readRecipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import PQueue from 'p-queue';
import { filter, firstValueFrom } from 'rxjs';
import { In, type Repository } from 'typeorm';
import { JobPool, Jobs, PondEvents, runInThread } from '../jobs/index.js';
import type { MadeFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { notFound, Problem, problemSentence } from '../problems/index.js';
import { BlobStore } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { SeenLikenessService } from './seen-likeness.service.js';
import { Trial } from './trial.entity.js';

/** Makes the file of one recipe. */
export const MAKE_TRIAL_WORKER = new URL(`./make-trial.worker.${THREAD_ENDING}`, import.meta.url).href;
/** Trials kept for one piece beside the pinned ones; older ones go. */
const MOST_TRIALS = 24;
const UNFINISHED: Trial['state'][] = ['waiting', 'working'];

/** A trial in the making. */
interface Making {
  /** Null until it stands in the queue. */
  job: string | null;
  progress: Omit<MakingProgress, 'file'>;
}

type UnmeasuredFile = NonNullable<MakingProgress['file']> & { readonly mime: string };

interface TrialJob {
  readonly trial: string;
}

/** How much somebody waits for a file. */
const MAKING_PRIORITIES = ['trial', 'batch'] as const;
type MakingPriority = (typeof MAKING_PRIORITIES)[number];

function jobKindOf(priority: MakingPriority): string {
  return priority === 'trial' ? 'trial' : `trial-${priority}`;
}

const WAITING: MakingProgress = { done: 0, doing: 'waiting for its turn' };

@Injectable()
export class TrialsService implements OnApplicationBootstrap {
  private readonly log = new Logger('trials');
  private readonly making = new Map<string, Making>();
  /** Requests of each piece that wait for one another. */
  private readonly turns = new Map<string, PQueue>();
  /** Finished files that are still being measured, by their trials: they can be seen already. */
  private readonly unmeasured = new Map<string, UnmeasuredFile>();

  constructor(
    @InjectRepository(Trial) private readonly trials: Repository<Trial>,
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
        run: ({ trial }, { id, signal }) => this.make(trial, id, signal),
        interrupted: ({ trial }) => this.tellInterrupted([trial]),
      });
    }
  }

  /**
   * What waited when the server stopped goes on; a trial that nobody will make any more is marked, and can be
   * asked for again.
   */
  async onApplicationBootstrap(): Promise<void> {
    const rows = await this.trials.findBy({ state: In(UNFINISHED) });
    const jobs = await Promise.all(
      MAKING_PRIORITIES.map((priority) => this.jobs.payloads<TrialJob>(jobKindOf(priority))),
    );
    const waiting = new Set(jobs.flat().map(({ trial }) => trial));
    await this.tellInterrupted(rows.map(({ id }) => id).filter((id) => !waiting.has(id)));
  }

  private async tellInterrupted(ids: readonly string[]): Promise<void> {
    const state = 'interrupted' as const;
    const problem = 'The server stopped while this was made. Make it again.';
    if (ids.length > 0) await this.trials.update({ id: In([...ids]) }, { state, problem });
  }

  async list(pieceId: string): Promise<TrialView[]> {
    const rows = await this.trials.find({ where: { pieceId }, order: { ordinal: 'ASC' } });
    // Those of earlier versions were not measured so.
    this.likeness.keepComparable(pieceId);
    return rows.map((row) => this.viewOf(row));
  }

  /**
   * What the shelf plays: for each piece the trial of its present recipe, or else its newest finished one, or
   * the one in the making.
   */
  async shown(): Promise<TrialView[]> {
    const select = { id: true, pieceId: true, key: true, state: true } as const;
    const where = { state: In(['done', ...UNFINISHED]) };
    const all = await this.trials.find({ select, where, order: { ordinal: 'DESC' } });
    const own = new Map<string, (typeof all)[number][]>();
    for (const row of all.filter(({ state }) => state === 'done')) add(own, row);
    const finished = new Set(own.keys());
    for (const row of all) if (!finished.has(row.pieceId)) add(own, row);
    const wanted: string[] = [];
    for (const piece of await this.pieces.list()) {
      const rows = own.get(piece.id) ?? [];
      const present = 'recipe' in piece ? rows.find((row) => row.key === fileKey(piece.recipe)) : undefined;
      const shown = present ?? rows[0];
      if (shown) wanted.push(shown.id);
    }
    return (await this.trials.findBy({ id: In(wanted) })).map((row) => this.viewOf(row));
  }

  /**
   * The file a recipe makes: at once if it was made before, else a trial in the making.
   * @param priority `batch` where many are asked for, and nobody waits for one of them.
   */
  request(pieceId: string, recipe: Recipe, priority: MakingPriority = 'trial'): Promise<TrialView> {
    return this.inTurn(pieceId, () => this.requestNow(pieceId, recipe, priority));
  }

  private async requestNow(pieceId: string, recipe: Recipe, priority: MakingPriority): Promise<TrialView> {
    const key = fileKey(recipe);
    const same = await this.trials.findOneBy({ pieceId, key });
    if (same && UNFINISHED.includes(same.state)) return this.viewOf(same);
    if (same && (await this.isThere(same))) return this.viewOf(same);
    // Before anything is changed: a row that is made anew keeps its pin and name also when it cannot be.
    await this.pieces.taskOf(pieceId, recipe);
    await this.cancelUnfinished(pieceId);
    const row = same ? await this.makeAnew(same) : await this.addRow(pieceId, recipe);
    const making: Making = { job: null, progress: WAITING };
    this.making.set(row.id, making);
    this.tell(row);
    const { id } = await this.jobs.add<TrialJob>(jobKindOf(priority), pieceId, { trial: row.id });
    // It may have been stopped, or made, meanwhile.
    if (this.making.get(row.id) === making) making.job = id;
    else await this.jobs.stop(id);
    return this.viewOf(row);
  }

  /** Resolves when a trial is no longer in the making, whichever way that ended. */
  async finished(id: string): Promise<void> {
    if (!this.making.has(id)) return;
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
    // Only what is changed is written: the rest may have become other meanwhile.
    const { affected } = await this.trials.update(id, change);
    const row = affected ? await this.trials.findOneBy({ id }) : null;
    if (!row) throw notFound('trial');
    this.tell(row);
    return this.viewOf(row);
  }

  /** Keeps a finished file that was made elsewhere, or finds the one of the same recipe. */
  keep(pieceId: string, recipe: Recipe, made: MadeFile): Promise<TrialView> {
    return this.inTurn(pieceId, () => this.keepNow(pieceId, recipe, made));
  }

  private async keepNow(pieceId: string, recipe: Recipe, { bytes, figures }: MadeFile): Promise<TrialView> {
    const key = fileKey(recipe);
    const same = await this.trials.findOneBy({ pieceId, key });
    if (same && (await this.isThere(same))) return this.viewOf(same);
    const blob = await this.blobs.put(bytes);
    if (same) await this.stopMaking(same.id);
    const done = { state: 'done' as const, figures, blob, problem: null, seen: null };
    const row = { ...(same ?? (await this.addRow(pieceId, recipe))), ...done };
    await this.trials.update(row.id, done);
    this.tell(row);
    await this.prune(pieceId);
    this.likeness.keepComparable(pieceId);
    return this.viewOf(row);
  }

  /** The finished file of a recipe where there is one that was made before. */
  async finishedOf(pieceId: string, recipe: Recipe): Promise<TrialView | null> {
    const same = await this.trials.findOneBy({ pieceId, key: fileKey(recipe) });
    return same && (await this.isThere(same)) ? this.viewOf(same) : null;
  }

  /** Stops it if it is being made, and forgets it. */
  async delete(id: string): Promise<void> {
    const row = await this.trials.findOneBy({ id });
    if (row) await this.remove(row);
  }

  async view(id: string): Promise<TrialView> {
    const row = await this.trials.findOneBy({ id });
    if (!row) throw notFound('trial');
    return this.viewOf(row);
  }

  /** The finished file. */
  async file(id: string): Promise<{ trial: Trial; path: string }> {
    const trial = await this.trials.findOneBy({ id });
    if (!trial) throw notFound('trial');
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

  private async isThere({ state, blob }: Trial): Promise<boolean> {
    if (state !== 'done' || blob === null || !(await this.blobs.has(blob))) return false;
    // A damaged file is made anew.
    return this.blobs.assertWhole(blob, '').then(
      () => true,
      () => false,
    );
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

  private async addRow(pieceId: string, recipe: Recipe): Promise<Trial> {
    return this.trials.save(this.newRow(pieceId, recipe, await this.nextOrdinal(pieceId)));
  }

  /** A row that is made once more; its pin and name may be changed meanwhile. */
  private async makeAnew(row: Trial): Promise<Trial> {
    const again = { state: 'waiting' as const, problem: null, createdAt: new Date().toISOString() };
    await this.trials.update(row.id, again);
    return { ...row, ...again };
  }

  private newRow(pieceId: string, recipe: Recipe, ordinal: number) {
    return {
      ...{ id: randomUUID(), pieceId, ordinal, key: fileKey(recipe), state: 'waiting' as const, recipe },
      ...{ figures: null, seen: null, blob: null, problem: null, pinned: false, name: null },
      createdAt: new Date().toISOString(),
    };
  }

  private async make(id: string, job: string, signal: AbortSignal): Promise<void> {
    const row = await this.trials.findOneBy({ id });
    if (!row) return;
    const making = this.making.get(id) ?? { job, progress: WAITING };
    this.making.set(id, making);
    const early: { file?: UnmeasuredFile } = {};
    try {
      const made = await runInThread<MakingProgress, MadeFile>(
        this.pool,
        await this.pieces.taskOf(row.pieceId, upToDate(row.recipe)),
        { filename: MAKE_TRIAL_WORKER, signal },
        ({ file, ...progress }, tell) => {
          making.progress = progress;
          row.state = 'working';
          if (file) {
            early.file = { ...file, mime: fileForm(upToDate(row.recipe).weigh).mime };
            this.unmeasured.set(id, early.file);
          }
          if (tell || file) this.tell(row);
        },
      );
      row.blob = await this.blobs.put(made.bytes);
      row.figures = made.figures;
      row.seen = null;
      row.state = 'done';
    } catch (error) {
      if (signal.aborted) return; // whoever stopped it has seen to its row
      row.state = 'failed';
      row.problem = problemSentence(error, this.log);
    } finally {
      // The same row may be made anew by now.
      if (this.making.get(id) === making) this.making.delete(id);
      if (signal.aborted) this.letGo(id, early.file);
    }
    if (signal.aborted) return;
    try {
      await this.finish(row);
    } catch (error) {
      // What cannot be written down now is seen as interrupted at the next start.
      this.tell({ ...row, state: 'failed', problem: problemSentence(error, this.log) });
    } finally {
      this.letGo(id, early.file);
    }
  }

  /** The file can be had from the store, or not at all; unless the same row is being made anew. */
  private letGo(id: string, file: UnmeasuredFile | undefined): void {
    if (this.unmeasured.get(id) === file) this.unmeasured.delete(id);
  }

  /** The file of a trial that is still being measured; null where it is not there yet, or is measured. */
  unmeasuredFile(id: string): UnmeasuredFile | null {
    return this.unmeasured.get(id) ?? null;
  }

  private async stopMaking(id: string): Promise<void> {
    const job = this.making.get(id)?.job;
    this.making.delete(id);
    if (job) await this.jobs.stop(job);
  }

  private async finish(row: Trial): Promise<void> {
    // It may have been deleted while its last bytes were written.
    const { affected } = await this.trials.update(row.id, {
      state: row.state,
      figures: row.figures,
      seen: row.seen,
      blob: row.blob,
      problem: row.problem,
    });
    if (!affected) return;
    this.tell(row);
    await this.prune(row.pieceId);
    this.likeness.keepComparable(row.pieceId);
  }

  private async cancelUnfinished(pieceId: string): Promise<void> {
    for (const row of await this.trials.findBy({ pieceId, state: In(UNFINISHED) })) {
      if (row.pinned || row.name !== null) await this.interrupt(row);
      else await this.remove(row);
    }
  }

  /** What somebody pinned or named stays, and can be made again. */
  private async interrupt(row: Trial): Promise<void> {
    await this.stopMaking(row.id);
    const stopped = {
      state: 'interrupted' as const,
      problem: 'It was stopped by a newer change. Make it again.',
    };
    await this.trials.update(row.id, stopped);
    this.tell({ ...row, ...stopped });
  }

  private async remove(row: Trial): Promise<void> {
    await this.stopMaking(row.id);
    await this.trials.delete(row.id);
    this.events.tell({ type: 'trial-gone', piece: row.pieceId, id: row.id });
  }

  /** What was not finished goes first, then what was made longest ago. */
  private async prune(pieceId: string): Promise<void> {
    const rows = await this.trials.find({ where: { pieceId }, order: { createdAt: 'DESC' } });
    const loose = rows.filter((row) => !row.pinned && !this.making.has(row.id));
    const worth = [
      ...loose.filter((row) => row.state === 'done'),
      ...loose.filter((row) => row.state !== 'done'),
    ];
    for (const row of worth.slice(MOST_TRIALS)) await this.remove(row);
  }

  private async nextOrdinal(pieceId: string): Promise<number> {
    const highest = await this.trials.maximum('ordinal', { pieceId });
    return highest === null ? 0 : highest + 1;
  }

  private viewOf(row: Trial): TrialView {
    const making = this.making.get(row.id);
    return {
      id: row.id,
      piece: row.pieceId,
      letter: letterOf(row.ordinal),
      name: row.name,
      pinned: row.pinned,
      key: row.key,
      state: making && row.state === 'waiting' && making.progress.done > 0 ? 'working' : row.state,
      recipe: upToDate(row.recipe),
      figures: row.figures,
      seen: row.seen && seenView(row.seen),
      problem: row.problem,
      progress: UNFINISHED.includes(row.state) && making ? this.progressOf(row.id, making) : null,
      createdAt: row.createdAt,
    };
  }

  private progressOf(id: string, { progress }: Making): TrialProgress {
    const file = this.unmeasured.get(id);
    return file
      ? { ...progress, file: { kind: file.kind, ...file.size, bytes: file.bytes.length } }
      : progress;
  }

  private tell(row: Trial): void {
    this.events.tell({ type: 'trial', trial: this.viewOf(row) });
  }
}

function add<Row extends { readonly pieceId: string }>(lists: Map<string, Row[]>, row: Row): void {
  lists.set(row.pieceId, [...(lists.get(row.pieceId) ?? []), row]);
}

/** What others are told of a likeness: not when it is tried again. */
function seenView({ width, value, problem }: SeenLikeness): SeenLikeness {
  return problem === undefined ? { width, value } : { width, value, problem };
}

/** A recipe kept with an older trial, as today's interface reads it. */
export function upToDate(recipe: Recipe): Recipe {
  const reading = readRecipe(recipe);
  return reading.type === 'ok' ? reading.recipe : recipe;
}

/** 0 A … 25 Z, 26 AA. */
export function letterOf(ordinal: number): string {
  const last = String.fromCharCode(65 + (ordinal % 26));
  return ordinal < 26 ? last : letterOf(Math.floor(ordinal / 26) - 1) + last;
}

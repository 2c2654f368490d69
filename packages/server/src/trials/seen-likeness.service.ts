import { likenessKey } from '@muted-pond/core/derived';
import { readRecipe } from '@muted-pond/core/recipe';
import { type BeforeApplicationShutdown, Inject, Injectable, Logger } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import type { Repository } from 'typeorm';
import { BlobStore } from '../blobs/index.js';
import { JobPool, Jobs, runInThread } from '../jobs/index.js';
import type { SeenTask } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { errorText, problemSentence } from '../problems/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import { type FailedLikeness, Trial } from './trial.entity.js';

const WORKER = new URL(`./measure-seen.worker.${THREAD_ENDING}`, import.meta.url).href;

interface SeenJob {
  readonly piece: string;
}

/**
 * Keeps the trials of a piece comparable: each is measured as it is seen at the width of the widest, at the
 * lowest priority.
 */
@Injectable()
export class SeenLikenessService implements BeforeApplicationShutdown {
  private readonly log = new Logger('likeness');
  /** Trials whose likeness has become known. */
  readonly measured = new Subject<Trial>();
  /** Pieces whose trials are being measured, and whether that was asked for again meanwhile. */
  private readonly asked = new Map<string, 'once' | 'again'>();
  /** The database may be closed at any moment. */
  private isClosing = false;

  constructor(
    @InjectRepository(Trial) private readonly trials: Repository<Trial>,
    @Inject(PiecesService) private readonly pieceService: PiecesService,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(JobPool) private readonly pool: JobPool,
    @Inject(Jobs) private readonly jobs: Jobs,
  ) {
    this.jobs.define<SeenJob>({
      name: 'seen',
      priority: 'background',
      yields: true,
      run: ({ piece }, { signal }) => this.measureAll(piece, signal),
      // It is begun again with the next look at the trials.
      interrupted: async () => {},
    });
  }

  beforeApplicationShutdown(): void {
    this.isClosing = true;
  }

  /** Sees to it that all finished trials of a piece are measured at one width. */
  keepComparable(piece: string): void {
    if (this.isClosing) return;
    if (this.asked.has(piece)) {
      this.asked.set(piece, 'again');
      return;
    }
    this.asked.set(piece, 'once');
    void this.beginIfNeeded(piece)
      .catch((error: unknown) => {
        if (!this.isClosing) this.log.error(errorText(error));
      })
      .finally(() => {
        const asked = this.asked.get(piece);
        this.asked.delete(piece);
        // A trial may have been finished after the last look.
        if (asked === 'again') this.keepComparable(piece);
      });
  }

  private async beginIfNeeded(piece: string): Promise<void> {
    if (!(await this.nextOf(piece))) return;
    const { ended } = await this.jobs.add<SeenJob>('seen', piece, { piece });
    await ended;
  }

  private async measureAll(piece: string, signal: AbortSignal): Promise<void> {
    while (!signal.aborted && (await this.measureOne(piece, signal)));
  }

  /** A trial that is not measured yet, and the width that it is to be measured at. */
  private async nextOf(pieceId: string): Promise<{ row: Trial; width: number } | null> {
    const rows = await this.trials.find({ where: { pieceId, state: 'done' }, order: { ordinal: 'DESC' } });
    const width = Math.max(0, ...rows.map((row) => row.figures?.width ?? 0));
    const row = rows.find((one) => one.figures && one.blob && isWanted(one, width));
    return row ? { row, width } : null;
  }

  /** @returns whether there was one to be measured. */
  private async measureOne(pieceId: string, signal: AbortSignal): Promise<boolean> {
    const next = await this.nextOf(pieceId);
    if (!next?.row.figures || !next.row.blob) return false;
    const { row, width } = next;
    const { figures, blob } = next.row;
    try {
      const value =
        figures.width === width ? figures.likeness : await this.measure(row, blob ?? '', width, signal);
      row.seen = { key: likenessKey(row.key, width), width, value };
    } catch (error) {
      // It gave way to something else, and has its turn again.
      if (signal.aborted) throw error;
      row.seen = failedAgain(row, width, problemSentence(error, this.log));
    }
    const { affected } = await this.trials.update(row.id, { seen: row.seen });
    if (affected) this.measured.next(row);
    return true;
  }

  private async measure(row: Trial, blob: string, width: number, signal: AbortSignal): Promise<number> {
    const reading = readRecipe(row.recipe);
    if (reading.type === 'error') throw new Error(`Trial ${row.id}: ${reading.message}`);
    const task: SeenTask = {
      ...(await this.pieceService.taskOf(row.pieceId, reading.recipe)),
      path: this.blobs.pathOf(blob),
      width,
    };
    return runInThread<number, number>(this.pool, task, { filename: WORKER, signal }, () => {});
  }
}

/** Pauses after a failure, ms; after as many failures as there are, it is not tried again. */
const PAUSES_MS = [60_000, 600_000, 3_600_000];

function isWanted({ key, seen }: Trial, width: number): boolean {
  if (seen?.key !== likenessKey(key, width)) return true;
  return 'againAt' in seen && seen.againAt !== null && Date.now() >= seen.againAt;
}

function failedAgain({ key: file, seen }: Trial, width: number, problem: string): FailedLikeness {
  const key = likenessKey(file, width);
  const before = seen?.key === key && 'tries' in seen ? seen.tries : 0;
  const pause = PAUSES_MS[before];
  const againAt = pause === undefined ? null : Date.now() + pause;
  return { key, width, value: null, problem, tries: before + 1, againAt };
}

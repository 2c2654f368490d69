import { readRecipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import type { Repository } from 'typeorm';
import { JobPool, Jobs, runInThread } from '../jobs/index.js';
import type { SeenTask } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { BlobStore } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { Trial } from './trial.entity.js';

const WORKER = new URL(`./measure-seen.worker.${THREAD_ENDING}`, import.meta.url).href;

interface SeenJob {
  readonly piece: string;
}

/**
 * Keeps the trials of a piece comparable: each is measured as it is seen at the width of the widest, behind
 * all that somebody waits for.
 */
@Injectable()
export class SeenLikenessService {
  /** Trials whose likeness has become known. */
  readonly measured = new Subject<Trial>();
  /** Pieces whose trials are going to be measured. */
  private readonly asked = new Set<string>();

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

  /** Sees to it that all finished trials of a piece are measured at one width. */
  keepComparable(piece: string): void {
    if (this.asked.has(piece)) return;
    this.asked.add(piece);
    this.beginIfNeeded(piece).catch(() => this.asked.delete(piece));
  }

  private async beginIfNeeded(piece: string): Promise<void> {
    if (!(await this.nextOf(piece))) {
      this.asked.delete(piece);
      return;
    }
    const { ended } = await this.jobs.add<SeenJob>('seen', piece, { piece });
    // A trial that was finished after the last look is measured with the next one.
    await ended.finally(() => this.asked.delete(piece));
    if (await this.nextOf(piece)) this.keepComparable(piece);
  }

  private async measureAll(piece: string, signal: AbortSignal): Promise<void> {
    while (!signal.aborted && (await this.measureOne(piece, signal)));
  }

  /** A trial that is not measured yet, and the width that it is to be measured at. */
  private async nextOf(pieceId: string): Promise<{ row: Trial; width: number } | null> {
    const rows = await this.trials.find({ where: { pieceId, state: 'done' }, order: { ordinal: 'DESC' } });
    const width = Math.max(0, ...rows.map((row) => row.figures?.width ?? 0));
    const row = rows.find((one) => one.figures && one.blob && one.seen?.width !== width);
    return row ? { row, width } : null;
  }

  /** @returns whether there was one to be measured. */
  private async measureOne(pieceId: string, signal: AbortSignal): Promise<boolean> {
    const next = await this.nextOf(pieceId);
    if (!next?.row.figures || !next.row.blob) return false;
    const { row, width } = next;
    const { figures, blob } = next.row;
    const value =
      figures?.width === width ? figures.likeness : await this.measure(row, blob ?? '', width, signal);
    row.seen = { width, value };
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

import { readRecipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import type { Repository } from 'typeorm';
import type { SeenTask } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { BlobStore } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { runTold, WorkerPool } from '../work/index.js';
import { Trial } from './trial.entity.js';

const WORKER = new URL(`./measure-seen.worker.${THREAD_ENDING}`, import.meta.url).href;

/**
 * Keeps the trials of a piece comparable: each is measured as it is seen at the width of the widest. One measurement at a time, behind
 * every trial that is being made; one that is in its way is stopped and taken up again.
 */
@Injectable()
export class SeenLikenessService implements OnApplicationShutdown {
  private readonly log = new Logger('likeness');
  /** Trials whose likeness has become known. */
  readonly measured = new Subject<Trial>();
  private readonly pieces = new Set<string>();
  /** Trials that are being made: measuring waits for them. */
  private busy = 0;
  private running: AbortController | null = null;
  private closed = false;

  constructor(
    @InjectRepository(Trial) private readonly trials: Repository<Trial>,
    @Inject(PiecesService) private readonly pieceService: PiecesService,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
  ) {}

  onApplicationShutdown(): void {
    this.closed = true;
    this.running?.abort();
  }

  /** Sees to it that all finished trials of a piece are measured at one width. */
  keepComparable(pieceId: string): void {
    this.pieces.add(pieceId);
    void this.next();
  }

  /** Somebody waits for a file: measuring gives way until it is there. */
  async giveWayTo(making: Promise<void>): Promise<void> {
    this.busy++;
    this.running?.abort();
    await making.finally(() => {
      this.busy--;
      void this.next();
    });
  }

  private async next(): Promise<void> {
    if (this.running || this.busy > 0 || this.closed) return;
    const [pieceId] = this.pieces;
    if (pieceId === undefined) return;
    const abort = new AbortController();
    this.running = abort;
    try {
      if (!(await this.measureOne(pieceId, abort.signal))) this.pieces.delete(pieceId);
    } catch (error) {
      if (!abort.signal.aborted) {
        // It is tried again with the next trial of the piece, not before.
        this.pieces.delete(pieceId);
        this.log.error(error instanceof Error ? error.stack : String(error));
      }
    } finally {
      this.running = null;
    }
    void this.next();
  }

  /** @returns whether there was one to be measured. */
  private async measureOne(pieceId: string, signal: AbortSignal): Promise<boolean> {
    const rows = await this.trials.find({ where: { pieceId, state: 'done' }, order: { ordinal: 'DESC' } });
    const width = Math.max(0, ...rows.map((row) => row.figures?.width ?? 0));
    const row = rows.find((one) => one.figures && one.blob && one.seen?.width !== width);
    if (!row?.figures || !row.blob) return false;
    const value =
      row.figures.width === width ? row.figures.likeness : await this.measure(row, row.blob, width, signal);
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
    const told = await runTold<number, number>(this.pool, task, { filename: WORKER, signal }, () => {});
    if (told.type === 'refused') throw new Error(`Trial ${row.id}: ${told.message}`);
    return told.made;
  }
}

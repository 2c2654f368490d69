import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { Interval } from '@nestjs/schedule';
import { InjectDataSource } from '@nestjs/typeorm';
import { type DataSource, LessThan } from 'typeorm';
import { BlobStore } from './blobs/index.js';
import { Footage } from './footage/index.js';
import { Piece } from './pieces/index.js';
import { sweepScratch } from './scratch/index.js';

/** How long a deleted piece can be put back, and how long a blob that nobody named stays in the bin, days. */
const UNDO_DAYS = 7;
/** Blobs younger than this may belong to a window that has not saved yet, days. */
const YOUNG_DAYS = 1;
const DAY_MS = 86_400_000;

/**
 * At every start, and daily while the server runs: what was deleted long ago goes for good, and blobs that no row names go into the bin, which
 * is emptied later. Rows are looked through as text: a recipe that cannot be read names its blobs all the
 * same.
 */
@Injectable()
export class StorageSweep implements OnApplicationBootstrap {
  private readonly log = new Logger('storage');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    @Inject(BlobStore) private readonly blobs: BlobStore,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    await sweepScratch();
    await this.sweep();
  }

  @Interval(DAY_MS)
  async sweep(): Promise<void> {
    const now = Date.now();
    const before = new Date(now - UNDO_DAYS * DAY_MS).toISOString();
    await this.database.getRepository(Piece).delete({ deletedAt: LessThan(before) });
    await this.dropFootage(before);
    await this.dropJobs();
    await this.blobs.emptyBin(now - UNDO_DAYS * DAY_MS);
    const texts = await this.rowsAsText();
    if (texts.length === 0) {
      const count = await this.blobs.count();
      if (count > 0) {
        this.log.warn(
          `The database is empty, but ${count} files are kept beside it. None of them is removed.`,
        );
      }
      return;
    }
    const wanted = new Set(texts.flatMap((text) => text.match(HASH) ?? []));
    const gone = await this.blobs.sweep((hash) => wanted.has(hash), now - YOUNG_DAYS * DAY_MS);
    if (gone > 0) this.log.log(`${gone} files that nothing needs any more were put into the bin.`);
  }

  /** Files that were taken out of the library long ago and that no piece is made from. */
  private async dropFootage(before: string): Promise<void> {
    const rows = this.database.getRepository(Footage);
    const old = await rows.find({ select: { hash: true }, where: { deletedAt: LessThan(before) } });
    if (old.length === 0) return;
    const recipes = await this.column('SELECT "recipe" AS "text" FROM "piece"');
    for (const { hash } of old) {
      if (!recipes.some((recipe) => recipe.includes(hash))) await rows.delete(hash);
    }
  }

  /** What was begun for pieces that are gone for good. */
  private async dropJobs(): Promise<void> {
    await this.database.query('DELETE FROM "job" WHERE "pieceId" NOT IN (SELECT "id" FROM "piece")');
  }

  private async rowsAsText(): Promise<string[]> {
    const all = [
      'SELECT "hash" AS "text" FROM "footage"',
      'SELECT "recipe" AS "text" FROM "piece"',
      'SELECT "payload" AS "text" FROM "job"',
      `SELECT "recipe" || ' ' || COALESCE("blob", '') AS "text" FROM "trial"`,
    ].map((query) => this.column(query));
    return (await Promise.all(all)).flat();
  }

  private async column(query: string): Promise<string[]> {
    const rows: { text: unknown }[] = await this.database.query(query);
    return rows.map((row) => String(row.text));
  }
}

/** SHA-256, as blobs are named. */
const HASH = /[0-9a-f]{64}/g;

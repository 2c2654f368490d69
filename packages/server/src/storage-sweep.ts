import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type DataSource, LessThan } from 'typeorm';
import { Footage } from './footage/index.js';
import { Piece } from './pieces/index.js';
import { BlobStore } from './storage/index.js';
import { Trial } from './trials/index.js';

/** How long a deleted piece can be put back, days. */
const UNDO_DAYS = 7;

/** At every start: what was deleted long ago goes for good, and then every blob that no row names. */
@Injectable()
export class StorageSweep implements OnApplicationBootstrap {
  private readonly log = new Logger('storage');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    @Inject(BlobStore) private readonly blobs: BlobStore,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const before = new Date(Date.now() - UNDO_DAYS * 86_400_000).toISOString();
    await this.database.getRepository(Piece).delete({ deletedAt: LessThan(before) });
    const footage = await this.database.getRepository(Footage).find({ select: { hash: true } });
    const trials = await this.database.getRepository(Trial).find({ select: { id: true, blob: true } });
    const wanted = new Set([...footage.map((row) => row.hash), ...trials.map((row) => row.blob)]);
    const gone = await this.blobs.sweep((hash) => wanted.has(hash));
    if (gone > 0) this.log.log(`${gone} files that nothing needs any more were removed.`);
  }
}

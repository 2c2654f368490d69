import { type Recipe, readRecipe, sourceHashes } from '@muted-pond/core/recipe';
import { stillHashes } from '@muted-pond/core/still';
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
    await this.dropFootage(before);
    const footage = await this.database.getRepository(Footage).find({ select: { hash: true } });
    const trials = await this.database.getRepository(Trial).find({ select: { id: true, blob: true } });
    const recipes = [
      ...(await this.database.getRepository(Piece).find({ select: { recipe: true } })),
      ...(await this.database.getRepository(Trial).find({ select: { recipe: true } })),
    ].map((row) => row.recipe);
    const wanted = new Set([
      ...footage.map((row) => row.hash),
      ...trials.map((row) => row.blob),
      ...recipes.flatMap(layersOf),
    ]);
    const gone = await this.blobs.sweep((hash) => wanted.has(hash));
    if (gone > 0) this.log.log(`${gone} files that nothing needs any more were removed.`);
  }

  /** Files that were taken out of the library long ago and that no piece is made from. */
  private async dropFootage(before: string): Promise<void> {
    const pieces = await this.database.getRepository(Piece).find();
    const used = new Set(pieces.flatMap((piece) => sourceHashes(piece.recipe)));
    const rows = this.database.getRepository(Footage);
    const old = await rows.find({ select: { hash: true }, where: { deletedAt: LessThan(before) } });
    for (const { hash } of old) if (!used.has(hash)) await rows.delete(hash);
  }
}

/** Masks and plates of a recipe, of whatever version it was kept in. */
function layersOf(stored: Recipe): string[] {
  const reading = readRecipe(stored);
  return reading.type === 'ok' ? stillHashes(reading.recipe.still) : [];
}

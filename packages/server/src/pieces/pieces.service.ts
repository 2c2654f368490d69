import { randomUUID } from 'node:crypto';
import type { NewPiece, PieceSave, PieceView, ShelfPiece } from '@muted-pond/core/api';
import {
  layerHashes,
  newAnimationRecipe,
  newRecipe,
  newStillsRecipe,
  type Recipe,
  type RecipeReading,
  readRecipe,
  sourceHashes,
  type Take,
  takeOf,
} from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { IsNull, type Repository } from 'typeorm';
import { PictureCache } from '../cache/index.js';
import { type Footage, FootageService } from '../footage/index.js';
import { LayersService } from '../layers/index.js';
import { type MakingFile, type MakingLayer, type MakingTask, sourceFile } from '../making/index.js';
import { notFound, Problem } from '../problems/index.js';
import { Piece } from './piece.entity.js';

/** Pieces whose recipes are remembered as they were read. */
const MOST_READ = 500;

@Injectable()
export class PiecesService {
  /** Recipes that were read, by piece and revision: a kept recipe never changes within one. */
  private readonly read = new LRUCache<
    string,
    { readonly revision: number; readonly reading: RecipeReading }
  >({
    max: MOST_READ,
  });

  constructor(
    @InjectRepository(Piece) private readonly pieces: Repository<Piece>,
    @Inject(FootageService) private readonly footage: FootageService,
    @Inject(LayersService) private readonly layers: LayersService,
    @Inject(PictureCache) private readonly cache: PictureCache,
  ) {}

  /** Newest first. One that cannot be read stands among them, and says why. */
  async list(): Promise<ShelfPiece[]> {
    const rows = await this.pieces.find({ where: { deletedAt: IsNull() }, order: { updatedAt: 'DESC' } });
    return rows.map((row) => {
      const reading = this.readingOf(row);
      if (reading.type === 'ok') return viewOf(row, reading.recipe);
      return { id: row.id, name: row.name, unreadable: reading.message, updatedAt: row.updatedAt };
    });
  }

  private readingOf({ id, revision, recipe }: Piece): RecipeReading {
    const there = this.read.get(id);
    if (there?.revision === revision) return there.reading;
    const reading = readRecipe(recipe);
    this.read.set(id, { revision, reading });
    return reading;
  }

  /** The recipe as it is kept, also where it cannot be read here. */
  async storedRecipe(id: string): Promise<{ readonly name: string; readonly json: string }> {
    const { name, recipe } = await this.row(id);
    return { name, json: typeof recipe === 'string' ? recipe : JSON.stringify(recipe, null, 2) };
  }

  async get(id: string): Promise<PieceView> {
    return pieceView(await this.row(id));
  }

  /** Over one video or animation, or over pictures in their order. */
  async create({ footage, stills, name }: NewPiece): Promise<PieceView> {
    const rows = await Promise.all((stills ?? [footage ?? '']).map((hash) => this.footage.get(hash)));
    const isStills = stills !== undefined || rows[0].facts.kind === 'picture';
    const moving = rows.find((row) => row.facts.kind !== 'picture');
    if (isStills && moving) {
      throw new Problem(
        422,
        'not_a_picture',
        `“${moving.name}” is not a picture, and stills are made of pictures. Make a piece of its own from it.`,
      );
    }
    const recipe = isStills ? newStillsRecipe(rows.map(sourceFile)) : newFootageRecipe(rows[0]);
    return this.add(name ?? titleOf(rows[0].name), recipe);
  }

  async duplicate(id: string): Promise<PieceView> {
    const { name, about, recipe } = await this.get(id);
    return this.add(`${name}, again`, recipe, about);
  }

  /** @throws Problem `stale` when someone else has saved since; with the newer piece in `current`. */
  async save(id: string, { revision, name, about, recipe }: PieceSave): Promise<PieceView> {
    const row = await this.row(id);
    await this.assertFits(recipe);
    const { affected } = await this.pieces.update(
      { id, revision, deletedAt: IsNull() },
      {
        name,
        about: about ?? row.about,
        recipe,
        revision: revision + 1,
        updatedAt: new Date().toISOString(),
      },
    );
    if (!affected) {
      throw new Problem(
        409,
        'stale',
        `“${row.name}” was changed in another window since it was opened here. Choose which one stays.`,
        { current: pieceView(await this.row(id)) },
      );
    }
    return this.get(id);
  }

  async delete(id: string): Promise<void> {
    await this.row(id);
    await this.pieces.update(id, { deletedAt: new Date().toISOString() });
  }

  async restore(id: string): Promise<PieceView> {
    await this.pieces.update(id, { deletedAt: null });
    return this.get(id);
  }

  private async add(name: string, recipe: Recipe, about = ''): Promise<PieceView> {
    const now = new Date().toISOString();
    const row = await this.pieces.save({
      id: randomUUID(),
      name,
      about,
      recipe,
      revision: 0,
      createdAt: now,
      updatedAt: now,
      deletedAt: null,
    });
    return pieceView(row);
  }

  private async row(id: string): Promise<Piece> {
    const row = await this.pieces.findOneBy({ id, deletedAt: IsNull() });
    if (!row) throw notFound('piece');
    return row;
  }

  /**
   * The files that a recipe names, as making one from them needs them.
   * @throws Problem when one is not here.
   */
  async filesOf(recipe: Recipe): Promise<MakingFile[]> {
    const rows = await Promise.all(sourceHashes(recipe).map((hash) => this.footage.get(hash)));
    return Promise.all(rows.map((row) => this.footage.makingFile(row)));
  }

  /**
   * Masks and plates that a recipe names.
   * @throws Problem `layers_missing` naming those that are not here.
   */
  async layersOf(recipe: Recipe): Promise<MakingLayer[]> {
    const hashes = layerHashes(recipe);
    const missing = await this.layers.missing(hashes);
    if (missing.length > 0) {
      const what =
        missing.length === 1 ? 'A picture, table or font' : `${missing.length} pictures, tables or fonts`;
      throw new Problem(
        422,
        'layers_missing',
        `${what} of this piece ${missing.length === 1 ? 'is' : 'are'} not on the disk. Undo, or bring in or paint anew.`,
        { missing },
      );
    }
    return Promise.all(hashes.map(async (hash) => ({ hash, path: await this.layers.path(hash) })));
  }

  /** All that is needed to make a file of a recipe of this piece. */
  async taskOf(id: string, recipe: Recipe): Promise<MakingTask> {
    await this.get(id);
    const { cacheDir } = this.cache;
    return { files: await this.filesOf(recipe), layers: await this.layersOf(recipe), recipe, cacheDir };
  }

  private async assertFits(recipe: Recipe): Promise<void> {
    // Also where a file is gone from the disk: what is changed meanwhile is saved all the same.
    const files = await Promise.all(sourceHashes(recipe).map((hash) => this.footage.get(hash)));
    const take = takeOf(recipe, files.map(sourceFile));
    assertSpanFits(recipe, take, files);
    assertCropFits(recipe, take);
    assertPlateFits(recipe, take);
    await this.layersOf(recipe);
  }
}

function newFootageRecipe(row: Footage): Recipe {
  const { hash, times } = sourceFile(row);
  return row.facts.kind === 'animation'
    ? newAnimationRecipe(hash, times, row.facts.plays)
    : newRecipe(hash, times);
}

function assertSpanFits({ span, sources }: Recipe, take: Take, files: readonly Footage[]): void {
  const frames = take.times.starts.length;
  if (span.end <= frames) return;
  const what = sources[0].kind === 'stills' ? 'there are' : `“${files[0].name}” has`;
  throw new Problem(
    422,
    'out_of_range',
    `The span ends at frame ${span.end}, but ${what} ${frames}. Set the end anew.`,
  );
}

function assertCropFits({ framing: { crop } }: Recipe, { size }: Take): void {
  if (!crop || (crop.x + crop.width <= size.width && crop.y + crop.height <= size.height)) return;
  throw new Problem(
    422,
    'out_of_range',
    `The crop of ${crop.width} × ${crop.height} px at ${crop.x}, ${crop.y} leaves the picture of ${size.width} × ${size.height} px. Set it anew.`,
  );
}

function pieceView(row: Piece): PieceView {
  const reading = readRecipe(row.recipe);
  if (reading.type === 'error') throw new Problem(422, reading.reason, `“${row.name}”: ${reading.message}`);
  return viewOf(row, reading.recipe);
}

function viewOf({ id, name, about, revision, createdAt, updatedAt }: Piece, recipe: Recipe): PieceView {
  return { id, name, about, recipe, revision, createdAt, updatedAt };
}

function assertPlateFits({ still: { plate } }: Recipe, { times }: Take): void {
  const frames = times.starts.length;
  if (!plate || plate.frame < frames) return;
  throw new Problem(
    422,
    'out_of_range',
    `The plate is frame ${plate.frame}, but there are ${frames}. Choose it anew.`,
  );
}

/** A file name as a title: without its ending, dashes and underscores as spaces. */
export function titleOf(fileName: string): string {
  const bare = fileName
    .replace(/\.[^.]{1,5}$/, '')
    .replace(/[-_]+/g, ' ')
    .trim();
  const title = bare.charAt(0).toUpperCase() + bare.slice(1);
  // By characters, so that none is cut in two; a name may have 120 units in all.
  let short = '';
  for (const character of title) if (short.length + character.length <= 120) short += character;
  return short || 'Untitled piece';
}

import { randomUUID } from 'node:crypto';
import type { NewPiece, PieceSave, PieceView } from '@muted-pond/core/api';
import { newRecipe, type Recipe, readRecipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, type Repository } from 'typeorm';
import { FootageService } from '../footage/index.js';
import { frameTimes } from '../media/index.js';
import { notFound, Problem } from '../problems/index.js';
import { Piece } from './piece.entity.js';

@Injectable()
export class PiecesService {
  constructor(
    @InjectRepository(Piece) private readonly pieces: Repository<Piece>,
    @Inject(FootageService) private readonly footage: FootageService,
  ) {}

  /** Newest first. */
  async list(): Promise<PieceView[]> {
    const rows = await this.pieces.find({ where: { deletedAt: IsNull() }, order: { updatedAt: 'DESC' } });
    return rows.map(pieceView);
  }

  async get(id: string): Promise<PieceView> {
    return pieceView(await this.row(id));
  }

  async create({ footage, name }: NewPiece): Promise<PieceView> {
    const source = await this.footage.get(footage);
    return this.add(name ?? titleOf(source.name), newRecipe(footage, frameTimes(source.facts)));
  }

  async duplicate(id: string): Promise<PieceView> {
    const { name, recipe } = await this.row(id);
    return this.add(`${name}, again`, recipe);
  }

  /** @throws Problem `stale` when someone else has saved since; with the newer piece in `current`. */
  async save(id: string, { revision, name, recipe }: PieceSave): Promise<PieceView> {
    const row = await this.row(id);
    await this.assertFits(recipe);
    const { affected } = await this.pieces.update(
      { id, revision, deletedAt: IsNull() },
      { name, recipe, revision: revision + 1, updatedAt: new Date().toISOString() },
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

  private async add(name: string, recipe: Recipe): Promise<PieceView> {
    const now = new Date().toISOString();
    const row = await this.pieces.save({
      id: randomUUID(),
      name,
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

  private async assertFits(recipe: Recipe): Promise<void> {
    const source = await this.footage.get(recipe.sources[0].hash);
    const frames = source.facts.ticks.length;
    if (recipe.span.end > frames) {
      throw new Problem(
        422,
        'out_of_range',
        `The span ends at frame ${recipe.span.end}, but “${source.name}” has ${frames}. Set the end anew.`,
      );
    }
  }
}

function pieceView(row: Piece): PieceView {
  const reading = readRecipe(row.recipe);
  if (reading.type === 'error') throw new Problem(422, reading.reason, `“${row.name}”: ${reading.message}`);
  const { id, name, revision, createdAt, updatedAt } = row;
  return { id, name, recipe: reading.recipe, revision, createdAt, updatedAt };
}

/** A file name as a title: without its ending, dashes and underscores as spaces. */
export function titleOf(fileName: string): string {
  const bare = fileName
    .replace(/\.[^.]{1,5}$/, '')
    .replace(/[-_]+/g, ' ')
    .trim();
  const title = bare.charAt(0).toUpperCase() + bare.slice(1);
  return title.slice(0, 120) || 'Untitled piece';
}

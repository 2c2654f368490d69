import { randomUUID } from 'node:crypto';
import type { TrialChange } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, type Repository } from 'typeorm';
import { BlobStore } from '../blobs/index.js';
import { notFound } from '../problems/index.js';
import { Trial } from './trial.entity.js';

/** Trials kept for one piece beside the pinned ones; older ones go. */
const MOST_TRIALS = 24;

export const UNFINISHED: readonly Trial['state'][] = ['waiting', 'working'];

/** How the making of a file ended: with the file, or with a problem. */
export type TrialEnd =
  | (Pick<Trial, 'figures' | 'seen' | 'blob'> & { readonly state: 'done'; readonly problem: null })
  | { readonly state: 'failed'; readonly problem: string };

/** The rows of trials. Only what is changed is written: the rest may have become other meanwhile. */
@Injectable()
export class TrialRows {
  constructor(
    @InjectRepository(Trial) private readonly rows: Repository<Trial>,
    @Inject(BlobStore) private readonly blobs: BlobStore,
  ) {}

  find(id: string): Promise<Trial | null> {
    return this.rows.findOneBy({ id });
  }

  /** @throws Problem where it is not there. */
  async get(id: string): Promise<Trial> {
    const row = await this.find(id);
    if (!row) throw notFound('trial');
    return row;
  }

  /** The trial of a recipe's file. */
  ofFile(pieceId: string, recipe: Recipe): Promise<Trial | null> {
    return this.rows.findOneBy({ pieceId, key: fileKey(recipe) });
  }

  /** All of a piece, by their letters. */
  ofPiece(pieceId: string): Promise<Trial[]> {
    return this.rows.find({ where: { pieceId }, order: { ordinal: 'ASC' } });
  }

  unfinished(pieceId?: string): Promise<Trial[]> {
    return this.rows.findBy({ state: In([...UNFINISHED]), ...(pieceId !== undefined && { pieceId }) });
  }

  /**
   * For each piece the trial of its recipe, or else its newest finished one, or the one in the making.
   * @param files the key of each piece's file.
   */
  async shownOf(files: ReadonlyMap<string, string>): Promise<Trial[]> {
    const select = { id: true, pieceId: true, key: true, state: true } as const;
    const where = { state: In(['done', ...UNFINISHED]) };
    const all = await this.rows.find({ select, where, order: { ordinal: 'DESC' } });
    const finished = byPiece(all.filter(({ state }) => state === 'done'));
    const making = byPiece(all.filter(({ state }) => state !== 'done'));
    const wanted = [...files].flatMap(([piece, key]) => {
      const rows = finished.get(piece) ?? making.get(piece) ?? [];
      return rows.find((row) => row.key === key) ?? rows.slice(0, 1);
    });
    return this.rows.findBy({ id: In(wanted.map(({ id }) => id)) });
  }

  /** Whether its file can be had. One that is damaged is made anew. */
  async hasFile({ state, blob }: Trial): Promise<boolean> {
    if (state !== 'done' || blob === null || !(await this.blobs.has(blob))) return false;
    return this.blobs.assertWhole(blob, '').then(
      () => true,
      () => false,
    );
  }

  async add(pieceId: string, recipe: Recipe): Promise<Trial> {
    const highest = await this.rows.maximum('ordinal', { pieceId });
    return this.rows.save({
      ...{ id: randomUUID(), pieceId, ordinal: highest === null ? 0 : highest + 1 },
      ...{ key: fileKey(recipe), state: 'waiting' as const, recipe },
      ...{ figures: null, seen: null, blob: null, problem: null, pinned: false, name: null },
      createdAt: new Date().toISOString(),
    });
  }

  /** It is made once more; its pin and name stay. */
  async makeAnew(row: Trial): Promise<Trial> {
    const again = { state: 'waiting' as const, problem: null, createdAt: new Date().toISOString() };
    await this.rows.update(row.id, again);
    return { ...row, ...again };
  }

  /** @returns whether it is still there. */
  async end(id: string, end: TrialEnd): Promise<boolean> {
    const { affected } = await this.rows.update(id, end);
    return Boolean(affected);
  }

  /** @param problem why they were stopped. */
  async interrupt(ids: readonly string[], problem: string): Promise<void> {
    if (ids.length > 0) await this.rows.update({ id: In([...ids]) }, { state: 'interrupted', problem });
  }

  /** @throws Problem where it is not there. */
  async change(id: string, change: TrialChange): Promise<Trial> {
    const { affected } = await this.rows.update(id, change);
    if (!affected) throw notFound('trial');
    return this.get(id);
  }

  async delete(id: string): Promise<void> {
    await this.rows.delete(id);
  }

  /**
   * Those of a piece that are too many: what was not finished goes first, then what was made longest ago.
   * @param isMade whether one is in the making now: it stays.
   */
  async excess(pieceId: string, isMade: (id: string) => boolean): Promise<Trial[]> {
    const rows = await this.rows.find({ where: { pieceId }, order: { createdAt: 'DESC' } });
    const loose = rows.filter((row) => !row.pinned && !isMade(row.id));
    const worth = [
      ...loose.filter((row) => row.state === 'done'),
      ...loose.filter((row) => row.state !== 'done'),
    ];
    return worth.slice(MOST_TRIALS);
  }
}

function byPiece<Row extends Pick<Trial, 'pieceId'>>(rows: readonly Row[]): Map<string, Row[]> {
  const lists = new Map<string, Row[]>();
  for (const row of rows) lists.set(row.pieceId, [...(lists.get(row.pieceId) ?? []), row]);
  return lists;
}

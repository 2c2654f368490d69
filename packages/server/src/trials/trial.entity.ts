import type { SeenLikeness, TrialFigures, TrialState } from '@muted-pond/core/api';
import { FIRST_KIND } from '@muted-pond/core/files';
import type { Recipe } from '@muted-pond/core/recipe';
import { Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn } from 'typeorm';
import { Piece } from '../pieces/index.js';
import { storedJson } from '../stored-json.js';

/** A likeness at a common width, under its key; those of earlier versions have none, and are measured anew. */
export interface KeptLikeness extends SeenLikeness {
  readonly key?: string;
}

/** A likeness that could not be measured; it is tried again after a pause that grows, and then no more. */
export interface FailedLikeness extends KeptLikeness {
  readonly value: null;
  readonly problem: string;
  /** Tries that failed. */
  readonly tries: number;
  /** Not before this time, ms since 1970; null where it is not tried again. */
  readonly againAt: number | null;
}

/** Figures of trials that were made before there were other kinds do not say which one. */
function withKind(figures: TrialFigures | null): TrialFigures | null {
  return figures && { ...{ kind: FIRST_KIND }, ...figures };
}

/** One finished file (or one being made) with the settings it came from and its figures. */
@Entity({ name: 'trial' })
@Index('IDX_trial_piece_key', ['pieceId', 'key'], { unique: true })
@Index('IDX_trial_piece_ordinal', ['pieceId', 'ordinal'], { unique: true })
export class Trial {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @ManyToOne(() => Piece, { onDelete: 'CASCADE', nullable: false })
  @JoinColumn({ name: 'pieceId' })
  piece?: Piece;

  @Index()
  @Column({ type: 'text' })
  pieceId!: string;

  /** 0 is A. Counted up within the piece, never used twice. */
  @Column({ type: 'integer' })
  ordinal!: number;

  /** Hash of recipe, sources and engine version: the same key is the same file. */
  @Index()
  @Column({ type: 'text' })
  key!: string;

  @Column({ type: 'text' })
  state!: TrialState;

  /** Of whatever version it was kept in; a text where it cannot even be parsed. */
  @Column({ type: 'text', transformer: storedJson })
  recipe!: Recipe;

  @Column({ type: 'simple-json', nullable: true, transformer: { to: (it) => it, from: withKind } })
  figures!: TrialFigures | null;

  /** How it looks beside the widest trial of the piece; null until that is measured. */
  @Column({ type: 'simple-json', nullable: true })
  seen!: KeptLikeness | FailedLikeness | null;

  /** SHA-256 of the finished file. */
  @Column({ type: 'text', nullable: true })
  blob!: string | null;

  @Column({ type: 'text', nullable: true })
  problem!: string | null;

  /** ISO 8601. */
  @Column({ type: 'text' })
  createdAt!: string;

  /** Never thrown away by itself. */
  @Column({ type: 'boolean', default: false })
  pinned!: boolean;

  /** Given by hand. */
  @Column({ type: 'text', nullable: true })
  name!: string | null;
}

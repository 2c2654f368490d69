import type { Recipe } from '@muted-pond/core/recipe';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { storedJson } from '../stored-json.js';

/** One loop in the making. */
@Entity({ name: 'piece' })
export class Piece {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  /** What is to be seen, for who does not see it. */
  @Column({ type: 'text', default: '' })
  about!: string;

  /** Of whatever version it was kept in; a text where it cannot even be parsed. */
  @Column({ type: 'text', transformer: storedJson })
  recipe!: Recipe;

  @Column({ type: 'integer' })
  revision!: number;

  /** ISO 8601. */
  @Column({ type: 'text' })
  createdAt!: string;

  /** ISO 8601. */
  @Column({ type: 'text' })
  updatedAt!: string;

  /** ISO 8601; set while a deletion can still be undone. */
  @Column({ type: 'text', nullable: true })
  deletedAt!: string | null;
}

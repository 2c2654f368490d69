import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { MediaFacts } from '../media/index.js';

/** One file that was brought in. Its bytes lie in the blob store under the same hash. */
@Entity({ name: 'footage' })
export class Footage {
  /** SHA-256 of the bytes. */
  @PrimaryColumn({ type: 'text' })
  hash!: string;

  /** As the user called it. */
  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'integer' })
  bytes!: number;

  @Column({ type: 'simple-json' })
  facts!: MediaFacts;

  /** ISO 8601. */
  @Column({ type: 'text' })
  addedAt!: string;

  /** ISO 8601; set while a deletion can still be undone. */
  @Column({ type: 'text', nullable: true })
  deletedAt!: string | null;
}

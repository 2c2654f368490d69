import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { VideoFacts } from '../media/index.js';

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
  facts!: VideoFacts;

  /** ISO 8601. */
  @Column({ type: 'text' })
  addedAt!: string;
}

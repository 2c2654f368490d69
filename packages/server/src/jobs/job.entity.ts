import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Something that takes long: waiting, being worked on, or ended with what is told of it. */
@Entity({ name: 'job' })
@Index('IDX_job_kind_piece', ['kind', 'pieceId'])
export class Job {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  kind!: string;

  /** Goes with its piece: those of pieces that are gone are swept at the next start. */
  @Column({ type: 'text' })
  pieceId!: string;

  @Column({ type: 'text' })
  state!: 'waiting' | 'working' | 'ended';

  /** All that is needed to begin it, or to begin it again. */
  @Column({ type: 'simple-json' })
  payload!: unknown;

  /** What everyone was told last; null where its owner keeps that. */
  @Column({ type: 'simple-json', nullable: true })
  view!: unknown;

  /** ISO 8601. */
  @Column({ type: 'text' })
  createdAt!: string;
}

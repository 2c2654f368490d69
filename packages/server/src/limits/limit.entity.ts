import type { FileKindId } from '@muted-pond/core/files';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a destination accepts. */
@Entity({ name: 'destination_limit' })
export class DestinationLimit {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  /** Limits are listed in the order in which they came. */
  @Column({ type: 'integer' })
  ordinal!: number;

  @Column({ type: 'text' })
  name!: string;

  /** Pixels. */
  @Column({ type: 'integer' })
  width!: number;

  @Column({ type: 'integer', nullable: true })
  height!: number | null;

  @Column({ type: 'integer' })
  bytes!: number;

  @Column({ type: 'real', nullable: true })
  seconds!: number | null;

  /** Frames a second. */
  @Column({ type: 'real', nullable: true })
  frameRate!: number | null;

  @Column({ type: 'boolean' })
  alpha!: boolean;

  /** Kinds of file that it takes; null for all. */
  @Column({ type: 'simple-json', nullable: true })
  kinds!: FileKindId[] | null;
}

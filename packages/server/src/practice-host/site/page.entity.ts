import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A page that shows one file. */
@Entity({ name: 'page' })
export class HostPage {
  /** As it stands in the link. */
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Index()
  @Column({ type: 'text' })
  place!: string;

  @Column({ type: 'text' })
  title!: string;

  @Column({ type: 'text' })
  about!: string;

  /** SHA-256 of the file's bytes: its name in the folder. */
  @Column({ type: 'text' })
  file!: string;

  @Column({ type: 'text' })
  mime!: string;

  @Column({ type: 'integer' })
  bytes!: number;

  @Column({ type: 'integer' })
  width!: number;

  @Column({ type: 'integer' })
  height!: number;

  /** Of movies, which do not say it themselves: 0 without end. */
  @Column({ type: 'integer' })
  plays!: number;

  @Column({ type: 'text', nullable: true })
  note!: string | null;

  /** ISO 8601. */
  @Column({ type: 'text' })
  createdAt!: string;

  /** ISO 8601. */
  @Column({ type: 'text' })
  updatedAt!: string;

  /** ISO 8601; set while it is taken down. */
  @Column({ type: 'text', nullable: true })
  downAt!: string | null;
}

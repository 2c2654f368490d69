import type { Mood } from '@muted-pond/core/api';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** How a place behaves; those that are not here behave fairly. */
@Entity({ name: 'place_mood' })
export class PlaceMood {
  @PrimaryColumn({ type: 'text' })
  place!: string;

  @Column({ type: 'text' })
  mood!: Mood;
}

import type { ComponentType } from 'react';

/** The three parts of a stone's screen. */
export interface StoneScreen {
  readonly Stage: ComponentType;
  readonly Bank: ComponentType;
  readonly Lower: ComponentType;
}

/** A stone of the course: its figure is always there, its screen is fetched when it is entered. */
export interface Stone {
  readonly id: string;
  readonly name: string;
  /** The figure beneath its name. */
  readonly Value: ComponentType;
  readonly load: () => Promise<{ readonly screen: StoneScreen }>;
}

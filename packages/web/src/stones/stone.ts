import type { ComponentType } from 'react';

interface StoneName {
  readonly id: string;
  readonly name: string;
}

/** A stone with its three parts of the screen and the figure beneath its name. */
export interface BuiltStone extends StoneName {
  readonly built: true;
  readonly Value: ComponentType;
  readonly Stage: ComponentType;
  readonly Bank: ComponentType;
  readonly Lower: ComponentType;
}

/** A stone that the course will have: its screen says plainly that it is not there. */
export interface UnbuiltStone extends StoneName {
  readonly built: false;
  /** What it will be for, and what holds until then. */
  readonly about: string;
}

export type Stone = BuiltStone | UnbuiltStone;

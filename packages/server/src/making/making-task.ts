import type { Recipe } from '@muted-pond/core/recipe';
import type { MakingLayer } from './frame-source.js';
import type { MakingFile } from './making-file.js';

/** Everything a worker needs to make one file. Plain data: it travels between threads. */
export interface MakingTask {
  /** All that the recipe names. */
  readonly files: readonly MakingFile[];
  /** Masks and plates that the recipe names. */
  readonly layers: readonly MakingLayer[];
  readonly recipe: Recipe;
  /** Where weaves are kept; without it they are made anew. */
  readonly cacheDir?: string;
}

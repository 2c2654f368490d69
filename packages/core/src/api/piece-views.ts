import type { Recipe } from '../recipe/index.js';

export interface PieceView {
  readonly id: string;
  readonly name: string;
  /** What is to be seen, for who does not see it; empty until it is written. */
  readonly about: string;
  readonly recipe: Recipe;
  /** Goes up with every save; a save names the one it came from. */
  readonly revision: number;
  readonly createdAt: string;
  readonly updatedAt: string;
}

/** A piece whose recipe cannot be read by this version. The recipe itself can be had as a file. */
export interface UnreadablePiece {
  readonly id: string;
  readonly name: string;
  /** What is wrong with it, for a person. */
  readonly unreadable: string;
  readonly updatedAt: string;
}

/** What stands on the shelf. */
export type ShelfPiece = PieceView | UnreadablePiece;

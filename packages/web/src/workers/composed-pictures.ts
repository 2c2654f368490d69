import type { LookId } from '@muted-pond/core/colour';
import type { LaidBlock } from './compose-work.js';

/** A place of the reel as pictures that a canvas can draw. */
export interface ComposedPictures {
  /** What the steps make of it. */
  readonly frame: ImageBitmap;
  /** What can be laid over it. */
  readonly blocks: readonly LaidBlock[];
  /** Before they are laid together; null where they were not asked for. */
  readonly layers: LayerPictures | null;
}

export interface LayerPictures {
  /** The whole picture as the reel shows it. */
  readonly whole: ImageBitmap;
  /** What moves, the lowest first; may be the whole picture itself. */
  readonly moving: readonly ImageBitmap[];
}

/** What is held, and through what the layers are seen: alike at every place of a plan. */
export interface HeldPictures {
  readonly plate: ImageBitmap;
  /** White, as much there as it moves; one a layer. */
  readonly masks: readonly ImageBitmap[];
}

/** A small picture in its own colours, and in each look. */
export type LookPictures = Readonly<Record<LookId | 'none', ImageBitmap>>;

export type ComposeReply =
  | { readonly type: 'held'; readonly plan: number; readonly held: HeldPictures }
  | {
      readonly type: 'composed';
      readonly plan: number;
      readonly place: number;
      readonly pictures: ComposedPictures;
    }
  | { readonly type: 'looks'; readonly plan: number; readonly place: number; readonly looks: LookPictures }
  | { readonly type: 'failed'; readonly plan: number; readonly place: number; readonly problem: string };

/** All bitmaps of a place, each once: for handing them over, and for closing them. */
export function bitmapsOf({ frame, layers }: ComposedPictures): ImageBitmap[] {
  return [...new Set([frame, ...(layers ? [layers.whole, ...layers.moving] : [])])];
}

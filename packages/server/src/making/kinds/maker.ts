import type { PixelFrame, Size, ThreadPool } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import type { RenderPlan } from '@muted-pond/core/render';
import type { Encoder } from '../../encoding/index.js';

/** All that a maker is told before the first frame comes. */
export interface MakerContext {
  readonly recipe: Recipe;
  readonly plan: RenderPlan;
  /** Whether it is known that every pixel of every frame is opaque. */
  readonly isOpaque: boolean;
  /** Frames from all over the reel, for one that comes in parts: they are composed for it. */
  sample(): Promise<readonly PixelFrame[]>;
  readonly isInParts: boolean;
  /** Whether figures will be asked for that take another look at every pixel. */
  readonly counts: boolean;
  readonly threads: ThreadPool;
  /** @param done 0–1 over the making. */
  readonly onProgress: (doing: string, done: number) => void;
}

/** A finished file and what its maker knows of it. */
export interface MadeBytes {
  readonly bytes: Uint8Array;
  /** Bytes of each frame of the reel; where that takes a look at the file, what looks. */
  readonly frameBytes: readonly number[] | (() => Promise<readonly number[]>);
  /** The colours of files that have palettes. */
  readonly palette: PaletteFigures | null;
}

export interface PaletteFigures {
  /** In the largest palette. */
  readonly colors: number;
  /** sRGB hexadecimal, #rrggbb: all colours of all palettes, each once. */
  readonly palette: readonly string[];
  readonly palettes: number;
  /** Part of all pixels that each colour is, 0–1. */
  readonly paletteShares: readonly number[];
}

/** A file being made, part after part of its reel. */
export interface FileMaking {
  /**
   * Is shown the frames of the next part one by one as they come, while the others are waited for; missing where
   * that is of no use. Nobody may write into them. @param count of the part.
   */
  look?(count: number): (frame: PixelFrame) => void;
  /** Takes the next frames. Nobody may write into them. */
  add(frames: readonly PixelFrame[]): Promise<void>;
  finish(): Promise<MadeBytes>;
  /** Ends what is under way when the file is not to be finished. */
  abandon?(): Promise<void>;
}

/** How one kind of file is made, and what a viewer shows of it. */
export interface Maker {
  /** What ffmpeg must have for it; nothing where it is made without. */
  readonly encoder?: Encoder;
  /** The places of the reel that stand in the file; all by default. */
  places?(recipe: Recipe, plan: RenderPlan): RenderPlan;
  /** The size of the file's pictures, where it is not that of the reel's. */
  sizeOf?(recipe: Recipe, size: Size): Size;
  /** How often the reel stands in the file; once by default. */
  rounds?(recipe: Recipe, plan: RenderPlan): number;
  start(context: MakerContext): Promise<FileMaking>;
  /**
   * The finished file read back: one picture for each frame of the reel.
   * @param delaysCs of the reel's frames.
   */
  read(bytes: Uint8Array, delaysCs: readonly number[]): AsyncIterable<PixelFrame> | Iterable<PixelFrame>;
}

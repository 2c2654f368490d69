import type { PixelFrame, Size } from '../pixels/index.js';
import type { SourceFile } from '../recipe/index.js';
import type { Mask } from '../still/index.js';

/** One frame of a file, and its number there. */
export interface DecodedPicture {
  readonly frame: number;
  readonly picture: PixelFrame;
}

/** Where the steps get their pictures from: a decoder and a disk, or what a browser has fetched. */
export interface FrameSource {
  /** The size in which a file's pictures are given where this one would do best. */
  sizeOf(file: SourceFile, best: Size): Size;
  /**
   * Frames of a file in that size, in their order. Nobody may write into them.
   * @param frames rising, each once.
   */
  read(file: SourceFile, frames: readonly number[], size: Size): AsyncIterable<DecodedPicture>;
  /** What was painted, by its hash; white moves. @throws where it is gone. */
  mask(hash: string): Promise<Mask>;
  /** A retouched plate, by its hash. @throws where it is gone. */
  plate(hash: string): Promise<PixelFrame>;
}

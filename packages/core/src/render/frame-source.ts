import type { Cube } from '../colour/index.js';
import type { FontFace } from '../dress/index.js';
import { UserError } from '../errors/index.js';
import type { PixelFrame, Rect, Size } from '../pixels/index.js';
import type { SourceFile } from '../recipe/index.js';
import type { Mask } from '../still/index.js';

/** One frame of a file, and its number there. */
export interface DecodedPicture {
  readonly frame: number;
  readonly picture: PixelFrame;
}

/** Draws letters. One engine, the same on every host, so that captions are the same to the pixel. */
export interface TextEngine {
  /** The fonts there are, those of one's own that are named first. @throws UserError where one is gone. */
  faces(own: readonly string[]): Promise<readonly FontFace[]>;
  /** What the drawing covers, in its own units; null where nothing. */
  bounds(svg: string, faces: readonly FontFace[]): Promise<Rect | null>;
  draw(svg: string, faces: readonly FontFace[]): Promise<PixelFrame>;
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
  /** A retouched plate or an emblem, by its hash. @throws where it is gone. */
  picture(hash: string): Promise<PixelFrame>;
  /** A table of colours, by its hash. @throws where it is gone. */
  table(hash: string): Promise<Cube>;
  readonly engine: TextEngine;
}

const gone = () => Promise.reject(new UserError('layer_gone', 'Nothing is kept here.'));

/** A source of frames alone, beside which nothing is kept. */
export const NOTHING_KEPT: Pick<FrameSource, 'mask' | 'picture' | 'table' | 'engine'> = {
  mask: gone,
  picture: gone,
  table: gone,
  engine: { faces: gone, bounds: gone, draw: gone },
};

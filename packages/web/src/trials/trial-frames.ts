import { composeGif, type GifFile, readGif } from '@muted-pond/core/gif';
import type { PixelFrame } from '@muted-pond/core/pixels';
import { stretchedCs } from './viewer-pace.js';

/**
 * The pictures of a finished file by time, as a viewer shows them. Holds one picture at a time, however long
 * the file is.
 */
export class TrialFrames {
  private readonly file: GifFile;
  /** When each picture ends, centiseconds: as written, and in a viewer that draws short delays out. */
  private readonly ends: readonly number[];
  private readonly stretchedEnds: readonly number[];
  private pictures: Generator<PixelFrame>;
  private current: PixelFrame | null = null;
  private index = -1;

  /** @throws GifError when the bytes are no GIF. */
  constructor(bytes: Uint8Array) {
    this.file = readGif(bytes);
    const delays = this.file.images.map((image) => image.delayCs);
    this.ends = runningSums(delays);
    this.stretchedEnds = runningSums(delays.map(stretchedCs));
    this.pictures = composeGif(this.file);
  }

  get width(): number {
    return this.file.width;
  }

  get height(): number {
    return this.file.height;
  }

  /** How long one round lasts, centiseconds. */
  get centiseconds(): number {
    return this.ends.at(-1) ?? 0;
  }

  /**
   * The picture that is shown at a time; the file goes round. The same object until the next call.
   * @param isStretched as a viewer shows it that draws short delays out.
   */
  at(centiseconds: number, isStretched = false): PixelFrame {
    const ends = isStretched ? this.stretchedEnds : this.ends;
    const round = ends.at(-1) ?? 0;
    const within = round > 0 ? centiseconds % round : 0;
    const wanted = Math.max(
      0,
      ends.findIndex((end) => within < end),
    );
    if (wanted < this.index) {
      // Pictures build on those before them.
      this.pictures = composeGif(this.file);
      this.index = -1;
    }
    while (this.index < wanted) {
      const next = this.pictures.next();
      if (next.done) break;
      this.current = next.value;
      this.index++;
    }
    return this.current as PixelFrame;
  }
}

function runningSums(values: readonly number[]): number[] {
  let sum = 0;
  return values.map((value) => {
    sum += value;
    return sum;
  });
}

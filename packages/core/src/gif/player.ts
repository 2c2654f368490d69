import { createFrame, type PixelFrame } from '../pixels/index.js';
import { unpackImage } from './image-data.js';
import { colourWord, type GifFile, type GifImage } from './reader.js';
import type { Rect } from './writer.js';

/** Bytes of screens that are kept to restart from, at most. */
const MOST_KEPT = 96 * 1024 ** 2;

/**
 * Shows any frame of a GIF as a viewer would, one per image, whole screen; what no image has drawn is
 * transparent. Disposal is applied as GIF89a, 23.c.iv says; an image that can be seen through gives way to
 * transparency, an opaque one to the background colour. On its way it keeps the screen here and there, and a
 * frame is reached from the nearest of those, or from an image that covers everything.
 */
export class GifPlayer {
  private readonly words: Uint32Array;
  /** The image that is drawn next; the screen is as the one before left it. */
  private next = 0;
  /** The screen as it was before some images. */
  private readonly kept = new Map<number, Uint32Array>();
  private readonly keepEvery: number;

  constructor(
    private readonly file: GifFile,
    mostKeptBytes = MOST_KEPT,
  ) {
    const pixels = file.width * file.height;
    this.words = new Uint32Array(pixels);
    const places = Math.floor(mostKeptBytes / (pixels * 4));
    this.keepEvery =
      places > 0 ? Math.max(4, Math.ceil(file.images.length / places)) : Number.POSITIVE_INFINITY;
  }

  /** @param frame 0 … images − 1. */
  frame(frame: number): PixelFrame {
    this.start(frame);
    while (this.next < frame) {
      this.keep();
      this.show(this.file.images[this.next]);
    }
    this.keep();
    return this.show(this.file.images[frame], true) as PixelFrame;
  }

  /** Restores the nearest kept screen from which a frame can be reached. */
  private start(frame: number): void {
    let from = this.next <= frame ? this.next : 0;
    for (const place of this.kept.keys()) if (place <= frame && place > from) from = place;
    for (let fresh = frame; fresh > from; fresh--) if (this.coversAll(this.file.images[fresh])) from = fresh;
    if (from === this.next) return;
    const screen = this.kept.get(from);
    if (screen) this.words.set(screen);
    else this.words.fill(0);
    this.next = from;
  }

  /** Whether nothing drawn before it can be seen once it is drawn, nor after it has given way. */
  private coversAll(image: GifImage): boolean {
    const { rect, disposal, transparentIndex } = image;
    return (
      transparentIndex === null &&
      disposal !== 3 &&
      rect.left === 0 &&
      rect.top === 0 &&
      rect.width >= this.file.width &&
      rect.height >= this.file.height &&
      unpackImage(this.file, image).there === null
    );
  }

  private keep(): void {
    const { next } = this;
    if (next > 0 && next % this.keepEvery === 0 && !this.kept.has(next)) {
      this.kept.set(next, this.words.slice());
    }
  }

  /** Draws an image and applies its disposal. @returns the screen between, where it is asked for. */
  private show(image: GifImage, isWanted = false): PixelFrame | null {
    const { width, height } = this.file;
    const before = image.disposal === 3 ? this.words.slice() : null;
    this.draw(image);
    const shown = isWanted ? createFrame(width, height, new Uint8Array(this.words.slice().buffer)) : null;
    const clearTo = image.transparentIndex === null ? this.file.background : 0;
    if (image.disposal === 2) this.fill(image.rect, clearTo);
    else if (before) this.words.set(before);
    this.next++;
    return shown;
  }

  private draw(image: GifImage): void {
    const { width, height } = this.file;
    const { words } = this;
    const { rect, colourTable, transparentIndex } = image;
    const { indices, there } = unpackImage(this.file, image);
    const colours = Uint32Array.from({ length: 256 }, (_, i) => colourWord(colourTable, i) || 0xff000000);
    const right = Math.min(width, rect.left + rect.width);
    const bottom = Math.min(height, rect.top + rect.height);
    for (let y = rect.top; y < bottom; y++) {
      let from = (y - rect.top) * rect.width;
      for (let x = rect.left; x < right; x++, from++) {
        const index = indices[from];
        if (index !== transparentIndex && (there === null || there[from] !== 0)) {
          words[y * width + x] = colours[index];
        }
      }
    }
  }

  private fill(rect: Rect, word: number): void {
    const { width, height } = this.file;
    const right = Math.min(width, rect.left + rect.width);
    const bottom = Math.min(height, rect.top + rect.height);
    for (let y = rect.top; y < bottom; y++) {
      if (right > rect.left) this.words.fill(word, y * width + rect.left, y * width + right);
    }
  }
}

/** All pictures a viewer shows, in their order. */
export function* composeGif(file: GifFile): Generator<PixelFrame> {
  const player = new GifPlayer(file, 0);
  for (let frame = 0; frame < file.images.length; frame++) yield player.frame(frame);
}

/**
 * Whether a viewer may see through any of its frames. Most GIFs name a transparent colour only for what
 * stays; what was drawn once becomes clear again only where an image gives way to transparency, or the first
 * one to what was there before it: nothing. Else the first frame tells.
 * @param mostPixels are unpacked to find out; past them, it may.
 */
export function maySeeThrough(file: GifFile, mostPixels: number): boolean {
  const { images, background } = file;
  const toClear = ({ disposal, transparentIndex }: GifImage) =>
    disposal === 2 && (transparentIndex !== null || background === 0);
  const givesWay = images[0].disposal === 3 || images.slice(0, -1).some(toClear);
  const pictures = composeGif(file);
  let left = mostPixels;
  for (const { rgba } of pictures) {
    for (let at = 3; at < rgba.length; at += 4) if (rgba[at] < 255) return true;
    if (!givesWay) return false;
    left -= rgba.length / 4;
    if (left < 0) return true;
  }
  return false;
}

import type { Rgb } from '../pixels/index.js';
import { CHROMA_SHARES } from '../settle/index.js';
import type { Rect } from './writer.js';

/** Colours tried besides the planned one where a string begins. */
export const NEAR = 16;
/** Strings followed at once, the cheapest so far. Sixteen save 0.2 % more, one costs 25 %. */
export const BEAM = 8;
/** What covering a pixel that need not be drawn is worth, as a share of one that must. */
export const KEPT_SHARE = 0.05;
/** The loss at which a string is dropped from the search, in the worth of drawn pixels. */
export const SLACK = 4;
/** Strings over which the usual worth of a pixel is averaged: 1 / (1 − FADE). */
export const FADE = 0.995;
/** Codes a drawn pixel is taken to need before any is written. */
export const FIRST_WORTH = 0.6;
/**
 * What leaving a dither's pattern costs, as a share of the squared distance from the colour that it chose. Few
 * colours lie far apart: their pattern stays. Many lie near: what is merged there makes no pattern worse.
 */
export const PATTERN = 0.15;
/** Without squeeze, a longer string is still preferred to a shorter one. */
export const LEAST_WORTH = 1e-6;
/** What a code costs, in squares of squeeze's levels. */
const CODE_PRICE = 2;
/** The most that one pixel may err, likewise. */
const PIXEL_LIMIT = 2;

/** No colour is on screen. */
export const NOTHING = 0;

/** A colour as it stands on screen: blue, green and red from the top, under a byte that says it is there. */
export function shownColour([red, green, blue]: Rgb): number {
  return (1 << 24) | (blue << 16) | (green << 8) | red;
}

/** What is to be drawn of a frame. */
export interface FrameDraft {
  /** The settled colours, RGBA; they count where a segment begins. */
  readonly rgba: Uint8Array;
  /** How long the segment lasts that begins at each pixel, frames; 0 where none does. */
  readonly durations: Uint16Array;
  /** Its palette entry. */
  readonly plan: Uint8Array;
}

export interface BeginOptions {
  /** The least benefit for which a pixel is drawn, squared levels for one frame; 0 draws every change. */
  readonly hold: number;
  /**
   * Whether most segments begin only because a part of the reel does: then how long they last does not count,
   * lest the whole picture be drawn again for fractions of a level.
   */
  readonly goesOn: boolean;
}

/** How a rectangle is written. */
export interface DrawOptions {
  readonly isInterlaced: boolean;
  readonly minimumCodeBits: number;
  /** The index that leaves what is shown, or null where none may be used. */
  readonly transparentIndex: number | null;
  /** How far from its planned colour a pixel may be for one frame on flat ground, levels; 0 writes the plan. */
  readonly squeeze: number;
  /** Whether the plan is a dither's: then its pattern is kept. */
  readonly isDithered: boolean;
}

/** Draws frames one after the other and follows what a viewer shows. */
export interface FrameDrawer {
  /** See shownColour, one a pixel; the caller may change it between frames. */
  readonly shown: Uint32Array;
  takePalette(palette: readonly Rgb[]): void;
  /**
   * Marks what is drawn of a frame: where a segment begins and another colour is shown, unless drawing it
   * brings so little that it does not pay.
   * @returns the smallest rectangle of it, or null.
   */
  begin(draft: FrameDraft, options: BeginOptions): Rect | null;
  /** Marks the planned colours as shown, without writing them. */
  showPlanned(): void;
  /**
   * Writes a rectangle of the frame that was begun: LZW data from the code size to the terminator (GIF89a, 22
   * and appendix F). A view that the next call writes over.
   */
  draw(rect: Rect, options: DrawOptions): Uint8Array;
}

/** The price of a code and the most that one pixel may err, squared levels. */
export function pricesOf(squeeze: number): { readonly code: number; readonly limit: number } {
  return { code: CODE_PRICE * squeeze ** 2, limit: PIXEL_LIMIT * squeeze ** 2 };
}

/** What squared differences of colour count at each pixel. */
export function chromaSharesOf(chroma: Uint8Array): Float32Array {
  const shares = new Float32Array(chroma.length);
  for (let p = 0; p < shares.length; p++) shares[p] = CHROMA_SHARES[chroma[p]];
  return shares;
}

/** 1 / masking²: what an error counts at each pixel. */
export function weightsOf(masking: Float32Array): Float32Array {
  return masking.map((factor) => 1 / (factor * factor));
}

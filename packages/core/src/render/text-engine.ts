import { LRUCache } from 'lru-cache';
import type { FontFace } from '../dress/index.js';
import { createFrame, type PixelFrame, type Rect } from '../pixels/index.js';
import type { TextEngine } from './frame-source.js';

/** What is used of the library that draws SVG. */
export interface SvgLibrary {
  new (
    svg: string,
    options: {
      readonly font: { readonly fontBuffers: Uint8Array[]; readonly defaultFontFamily?: string };
    },
  ): {
    getBBox(): Rect | undefined;
    render(): { readonly width: number; readonly height: number; readonly pixels: Uint8Array; free(): void };
    free(): void;
  };
}

/** Where a host has its fonts. */
export interface FontShelf {
  faces(own: readonly string[]): Promise<readonly FontFace[]>;
  bytes(id: string): Promise<Uint8Array>;
}

/** Drawings and measurements that are kept: as many captions as people lay over one loop. */
const MOST_KEPT = 128;

/** @param open gives the library once it can draw. */
export function createTextEngine(open: () => Promise<SvgLibrary>, shelf: FontShelf): TextEngine {
  const kept = new LRUCache<string, Promise<unknown>>({ max: MOST_KEPT });

  /** The same is drawn once, and asked for again after a failure. */
  function remembered<Result>(key: string, make: () => Promise<Result>): Promise<Result> {
    const there = kept.get(key) as Promise<Result> | undefined;
    const result = there ?? make();
    if (!there) kept.set(key, result);
    result.catch(() => kept.delete(key));
    return result;
  }

  async function drawn<Result>(
    svg: string,
    faces: readonly FontFace[],
    use: (drawing: InstanceType<SvgLibrary>) => Result,
  ): Promise<Result> {
    const library = await open();
    const fontBuffers = await Promise.all(faces.map(({ id }) => shelf.bytes(id)));
    const drawing = new library(svg, { font: { fontBuffers } });
    try {
      return use(drawing);
    } finally {
      drawing.free();
    }
  }

  const keyOf = (what: string, svg: string, faces: readonly FontFace[]) =>
    JSON.stringify([what, svg, faces.map(({ id }) => id)]);

  return {
    faces: shelf.faces,
    bounds: (svg, faces) =>
      remembered(keyOf('bounds', svg, faces), () =>
        drawn(svg, faces, (drawing) => {
          const box = drawing.getBBox();
          return box ? { x: box.x, y: box.y, width: box.width, height: box.height } : null;
        }),
      ),
    draw: (svg, faces) =>
      remembered(keyOf('draw', svg, faces), () => drawn(svg, faces, (drawing) => drawnPixels(drawing))),
  };
}

/** The library's pixels are premultiplied by alpha; frames are not. */
export function drawnPixels(drawing: Pick<InstanceType<SvgLibrary>, 'render'>): PixelFrame {
  const image = drawing.render();
  try {
    const { width, height, pixels } = image;
    const rgba = new Uint8Array(pixels);
    for (let i = 0; i < rgba.length; i += 4) {
      const alpha = rgba[i + 3];
      if (alpha === 0 || alpha === 255) continue;
      for (let c = i; c < i + 3; c++) rgba[c] = Math.min(255, Math.round((rgba[c] * 255) / alpha));
    }
    return createFrame(width, height, rgba);
  } finally {
    image.free();
  }
}

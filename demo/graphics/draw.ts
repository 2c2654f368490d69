import { fileURLToPath } from 'node:url';
import { Resvg } from '@resvg/resvg-js';

const font = (path: string) => fileURLToPath(import.meta.resolve(`@expo-google-fonts/${path}`));

const FONTS = {
  loadSystemFonts: false,
  defaultFontFamily: 'Instrument Sans',
  fontFiles: [
    font('bricolage-grotesque/700Bold/BricolageGrotesque_700Bold.ttf'),
    font('instrument-sans/400Regular/InstrumentSans_400Regular.ttf'),
    font('instrument-sans/600SemiBold/InstrumentSans_600SemiBold.ttf'),
  ],
};

/** A drawn picture: premultiplied RGBA8. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly pixels: Buffer;
}

/** @param body the inside of an SVG document of the given size. */
export function draw(width: number, height: number, body: string, scale = 1): Drawing {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">${body}</svg>`;
  const drawn = new Resvg(svg, {
    font: FONTS,
    fitTo: { mode: 'width', value: Math.round(width * scale) },
  }).render();
  return { width: drawn.width, height: drawn.height, pixels: drawn.pixels };
}

/** Straight alpha, as files hold it. */
export function straight({ pixels }: Drawing): Buffer {
  const out = Buffer.from(pixels);
  for (let at = 0; at < out.length; at += 4) {
    const alpha = out[at + 3];
    if (alpha === 0 || alpha === 255) continue;
    for (let c = 0; c < 3; c++) out[at + c] = Math.min(255, Math.round((out[at + c] * 255) / alpha));
  }
  return out;
}

/** Lays a drawing over another, in place. */
export function layOver(ground: Drawing, over: Drawing, left: number, top: number): void {
  for (let y = Math.max(0, -top); y < over.height && y + top < ground.height; y++) {
    for (let x = Math.max(0, -left); x < over.width && x + left < ground.width; x++) {
      const from = (y * over.width + x) * 4;
      const to = ((y + top) * ground.width + x + left) * 4;
      const keep = 1 - over.pixels[from + 3] / 255;
      if (keep === 1) continue;
      for (let c = 0; c < 4; c++)
        ground.pixels[to + c] = over.pixels[from + c] + ground.pixels[to + c] * keep;
    }
  }
}

export const heading = (x: number, y: number, size: number, fill: string, text: string, more = '') =>
  `<text x="${x}" y="${y}" font-family="Bricolage Grotesque" font-weight="700" font-size="${size}" fill="${fill}" ${more}>${text}</text>`;
export const words = (x: number, y: number, size: number, fill: string, text: string, more = '') =>
  `<text x="${x}" y="${y}" font-family="Instrument Sans" font-size="${size}" fill="${fill}" ${more}>${text}</text>`;

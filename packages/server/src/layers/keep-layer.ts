import { readFile } from 'node:fs/promises';
import type { LayerKind } from '@muted-pond/core/api';
import { readCube } from '@muted-pond/core/colour';
import { UserError } from '@muted-pond/core/errors';
import { drawnPixels } from '@muted-pond/core/render';
import { LONGEST_MASK_SIDE } from '@muted-pond/core/still';
import { assertWhole, encodePng, isDrawing, openPicture, probePicture } from '../media/index.js';
import { readFace, svgLibrary } from '../text/index.js';

/** A file that was brought in: what is kept in its place, and what is told of it. */
export interface KeptLayer {
  /** Null where the file is kept as it is. */
  readonly bytes: Uint8Array | null;
  readonly width: number;
  readonly height: number;
  readonly notes: readonly string[];
}

interface LayerKeeper {
  readonly mostBytes: number;
  /** @throws UserError where it cannot be used. */
  keep(path: string, name: string): Promise<KeptLayer>;
}

const MIB = 1024 ** 2;
/** Plates are in the take's own size, which may be larger than a mask. */
const LONGEST_SIDE = 4 * LONGEST_MASK_SIDE;
/** Emblems are kept no larger, px. */
const LONGEST_EMBLEM = 2048;
/** Drawings that claim more are refused before they are drawn, px. */
const LARGEST_DRAWING = 100_000;
const MOST_DRAWING_BYTES = 4 * MIB;

/** What each kind of layer must be, and what is kept of it. */
export const LAYER_KEEPERS: Record<LayerKind, LayerKeeper> = {
  /** A painted mask or a retouched plate: a PNG. */
  picture: {
    mostBytes: 64 * MIB,
    async keep(path, name) {
      const { width, height, codec } = await probePicture(path, name);
      if (codec.toLowerCase() !== 'png') {
        throw new UserError('not_a_png', `“${name}” is not a PNG. Save it as PNG and bring it again.`);
      }
      assertSide(width, height, LONGEST_SIDE, name);
      await assertWhole(path, name);
      return { bytes: null, width, height, notes: [] };
    },
  },
  /** A picture of one's own, kept as PNG. */
  emblem: {
    mostBytes: 32 * MIB,
    keep: async (path, name) => ((await isDrawing(path)) ? drawEmblem(path, name) : readEmblem(path, name)),
  },
  /** A table of colours in the .cube form. */
  table: {
    mostBytes: 24 * MIB,
    async keep(path) {
      readCube(await readFile(path, 'utf8'));
      return { bytes: null, width: 0, height: 0, notes: [] };
    },
  },
  /** A font: TTF or OTF; WOFF2 is unpacked. */
  font: {
    mostBytes: 24 * MIB,
    async keep(path) {
      const file = await readFile(path);
      const bytes = file.toString('latin1', 0, 4) === 'wOF2' ? await unpackFont(file) : null;
      if (bytes && bytes.length > 4 * LAYER_KEEPERS.font.mostBytes) throw badFont();
      const face = await readFace('', bytes ?? path);
      await tryFont(bytes ?? file, face.family);
      return { bytes, width: 0, height: 0, notes: [] };
    },
  },
};

function assertSide(width: number, height: number, most: number, name: string): void {
  if (Math.max(width, height) <= most) return;
  throw new UserError(
    'too_large',
    `“${name}” is ${width} × ${height} px; ${most} px is the longest side that can be used.`,
  );
}

async function readEmblem(path: string, name: string): Promise<KeptLayer> {
  const facts = await probePicture(path, name);
  assertSide(facts.width, facts.height, 4 * LONGEST_EMBLEM, name);
  await assertWhole(path, name);
  const picture = await openPicture(path);
  const { data, info } = await picture
    .rotate()
    .resize({ width: LONGEST_EMBLEM, height: LONGEST_EMBLEM, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  const isSmaller = width < facts.width;
  return {
    bytes: await encodePng(data, { width, height }, true),
    width,
    height,
    notes: isSmaller ? [`“${name}” was made smaller, to ${width} × ${height} px.`] : [],
  };
}

/** What reaches outside or runs: it is never drawn, and that is told. */
const OUTSIDE =
  /<(script|foreignObject)[\s>]|(href|src)\s*=\s*["']\s*(?!#|data:)|@import|url\(\s*["']?(?!#|data:)/i;
const ENTITIES = /<!ENTITY/i;

async function drawEmblem(path: string, name: string): Promise<KeptLayer> {
  const text = await readFile(path, 'utf8');
  const refused = (why: string) => new UserError('bad_drawing', `“${name}” ${why}`);
  if (text.length > MOST_DRAWING_BYTES) {
    throw refused(
      `is a drawing of ${Math.round(text.length / MIB)} MiB; 4 MiB can be drawn. Save it as PNG.`,
    );
  }
  if (ENTITIES.test(text))
    throw refused('declares entities, which are not drawn. Save it as plain SVG or as PNG.');
  const library = await svgLibrary();
  const font = { fontBuffers: [] };
  const size = sizeOf(() => new library(text, { font }), refused);
  const scale = LONGEST_EMBLEM / 2 / Math.max(size.width, size.height);
  const drawing = new library(text, { font, fitTo: { mode: 'zoom', value: scale } } as never);
  try {
    const { width, height, rgba } = drawnPixels(drawing);
    const notes = OUTSIDE.test(text)
      ? [`“${name}” names scripts or files outside itself. They were left out.`]
      : [];
    if (/<text[\s>]/.test(text))
      notes.push(`Letters in “${name}” were left out: turn them into outlines first.`);
    return { bytes: await encodePng(rgba, { width, height }, true), width, height, notes };
  } finally {
    drawing.free();
  }
}

function sizeOf(
  open: () => { width?: number; height?: number; free(): void },
  refused: (why: string) => UserError,
): { width: number; height: number } {
  let drawing: ReturnType<typeof open>;
  try {
    drawing = open();
  } catch {
    throw refused('is not a drawing that can be read. Save it anew as plain SVG, or as PNG.');
  }
  const { width = 0, height = 0 } = drawing;
  drawing.free();
  if (!(width > 0 && height > 0)) throw refused('has no size. Give it a width and a height.');
  if (Math.max(width, height) > LARGEST_DRAWING || Math.max(width / height, height / width) > 1000) {
    throw refused(`claims ${Math.round(width)} × ${Math.round(height)} px. Make it smaller.`);
  }
  return { width, height };
}

function badFont(): UserError {
  return new UserError('bad_font', 'This font cannot be read. Bring a TTF, OTF or WOFF2 file of one font.');
}

async function unpackFont(file: Uint8Array): Promise<Uint8Array> {
  const { decompress } = await import('wawoff2');
  try {
    return new Uint8Array(await decompress(file));
  } catch {
    throw badFont();
  }
}

/** Letters are drawn with it once, so that a malicious font fails here and not later. */
async function tryFont(bytes: Uint8Array, family: string): Promise<void> {
  const library = await svgLibrary();
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="60"><text x="4" y="40" font-size="24" font-family="${family.replace(/[&<>"]/g, '')}">Abc äöü 0123</text></svg>`;
  try {
    const drawing = new library(svg, { font: { fontBuffers: [new Uint8Array(bytes)] } });
    drawing.render().free();
    drawing.free();
  } catch {
    throw badFont();
  }
}

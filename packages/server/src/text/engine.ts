import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { createTextEngine, type SvgLibrary, type TextEngine } from '@muted-pond/core/render';
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import { isShippedFont, readFace, shippedFaces, shippedFontPath } from './fonts.js';

let opening: Promise<SvgLibrary> | null = null;

/** The library that draws SVG, started once in a thread. */
export function svgLibrary(): Promise<SvgLibrary> {
  opening ??= start();
  return opening;
}

async function start(): Promise<SvgLibrary> {
  const path = createRequire(import.meta.url).resolve('@resvg/resvg-wasm/index_bg.wasm');
  await initWasm(await readFile(path));
  return Resvg as unknown as SvgLibrary;
}

/** Font files that were read, by what they are called: few and small. */
const files = new Map<string, Promise<Uint8Array>>();

/** @param ownPath where a font of one's own lies, by its hash. @throws UserError where it is gone. */
export function openTextEngine(ownPath: (hash: string) => string): TextEngine {
  const pathOf = (id: string) => (isShippedFont(id) ? shippedFontPath(id) : ownPath(id));
  return createTextEngine(svgLibrary, {
    async faces(own) {
      const read = await Promise.all(own.map((hash) => readFace(hash, ownPath(hash))));
      return [...read, ...(await shippedFaces())];
    },
    bytes(id) {
      const path = pathOf(id);
      const there = files.get(path) ?? readFile(path).then((bytes) => new Uint8Array(bytes));
      files.set(path, there);
      there.catch(() => files.delete(path));
      return there;
    },
  });
}

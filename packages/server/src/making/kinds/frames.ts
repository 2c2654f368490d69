import { unzipSync, Zip, ZipPassThrough } from 'fflate';
import type { Maker } from './maker.js';
import { decodePng, encodePng } from './png.js';

const LIST = 'delays.txt';

/**
 * A PNG for each frame of the reel, and what is shown how long, in a ZIP. PNGs are packed already, so they
 * are only put in.
 */
export const frames: Maker = {
  async start({ plan, onProgress }) {
    const pieces: Uint8Array[] = [];
    const frameBytes: number[] = [];
    const zip = new Zip((error, piece) => {
      if (error) throw error;
      pieces.push(piece);
    });
    const put = (name: string, bytes: Uint8Array) => {
      const entry = new ZipPassThrough(name);
      // The same frames make the same file, whenever that is.
      entry.mtime = '2000-01-01T00:00:00';
      zip.add(entry);
      entry.push(bytes, true);
    };
    const digits = String(plan.reel.length - 1).length;
    return {
      async add(pictures) {
        for (const picture of pictures) {
          const png = await encodePng(picture);
          put(`frame-${String(frameBytes.length).padStart(digits, '0')}.png`, png);
          frameBytes.push(png.length);
          onProgress('writing the frames', frameBytes.length / plan.reel.length);
        }
      },
      async finish() {
        const lines = plan.reel.map(
          ({ delayCs }, place) =>
            `frame-${String(place).padStart(digits, '0')}.png ${(delayCs / 100).toFixed(2)}`,
        );
        put(LIST, new TextEncoder().encode(`# file, seconds shown\n${lines.join('\n')}\n`));
        zip.end();
        const bytes = Buffer.concat(pieces);
        // Of a long reel they are as large again.
        pieces.length = 0;
        return { bytes, frameBytes, palette: null };
      },
    };
  },
  async *read(bytes) {
    for (const name of namesIn(bytes).sort()) {
      const { [name]: png } = unzipSync(bytes, { filter: (entry) => entry.name === name });
      yield await decodePng(png);
    }
  },
};

/** The frames of a ZIP, without unpacking any. */
function namesIn(bytes: Uint8Array): string[] {
  const names: string[] = [];
  unzipSync(bytes, {
    filter({ name }) {
      if (name !== LIST) names.push(name);
      return false;
    },
  });
  return names;
}

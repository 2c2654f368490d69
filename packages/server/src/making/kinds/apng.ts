import { promisify } from 'node:util';
import { constants, deflate } from 'node:zlib';
import { startApng } from '@muted-pond/core/files';
import { hexOf } from '@muted-pond/core/palette';
import { copyToShared } from '@muted-pond/core/pixels';
import { readMovie } from '../../media/index.js';
import { framesAtTimes } from './frames-at-times.js';
import { GIF_DOING } from './gif.js';
import type { Maker } from './maker.js';

const packed = promisify(deflate);

export const apng: Maker = {
  async start({ recipe, plan, isOpaque, isInParts, sample, threads, onProgress }) {
    const { apng: settings, matte } = recipe.weigh;
    const sampled = isInParts && settings.colours === 'palette' ? await sample() : undefined;
    const rendering = startApng({
      ...{ reel: plan.reel, settings, matte, plays: recipe.plays, isOpaque, isInParts, threads },
      sample: sampled?.map((frame) => copyToShared(frame, threads)),
      deflate: (bytes, effort, isScattered) =>
        packed(bytes, {
          strategy: isScattered ? constants.Z_FILTERED : constants.Z_DEFAULT_STRATEGY,
          level: effort === 'best' ? constants.Z_BEST_COMPRESSION : constants.Z_BEST_SPEED,
          memLevel: 9,
        }),
      onProgress: ({ step, done }) => onProgress(GIF_DOING[step], done),
    });
    return {
      // Settling works in place.
      add: (frames) => rendering.add(frames.map((frame) => copyToShared(frame, threads))),
      async finish() {
        const { bytes, frameBytes, palette } = rendering.finish();
        return { bytes, frameBytes, palette: palette && paletteFigures(palette) };
      },
    };
  },
  async *read(bytes, delaysCs) {
    yield* framesAtTimes(readMovie(bytes, null), apngDelays(bytes), delaysCs);
  },
};

function paletteFigures(rgb: Uint8Array) {
  const colors = rgb.length / 3;
  const palette = Array.from({ length: colors }, (_, i) =>
    hexOf([rgb[i * 3], rgb[i * 3 + 1], rgb[i * 3 + 2]]),
  );
  return { colors, palette, palettes: 1, paletteShares: [] };
}

/** Of each frame, ms, as its control chunk says (W3C PNG third edition, 11.3.4.3). */
function apngDelays(bytes: Uint8Array): number[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const delays: number[] = [];
  for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
    if (view.getUint32(at + 4) !== FRAME_CONTROL) continue;
    delays.push((view.getUint16(at + 28) / (view.getUint16(at + 30) || 100)) * 1000);
  }
  return delays;
}

/** “fcTL”. */
const FRAME_CONTROL = 0x6663_544c;

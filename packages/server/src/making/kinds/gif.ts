import { type RenderProgress, startRendering } from '@muted-pond/core/files';
import { playGif, readGif } from '@muted-pond/core/gif';
import { hasOnePalette, hexOf } from '@muted-pond/core/palette';
import { copyToShared } from '@muted-pond/core/pixels';
import type { Maker } from './maker.js';

/** What is being done, for people. */
export const GIF_DOING: Record<RenderProgress['step'], string> = {
  settle: 'settling the pixels',
  palette: 'choosing colours',
  dither: 'laying colours',
  write: 'writing the file',
};

export const gif: Maker = {
  async start({ recipe, plan, isOpaque, isInParts, sample, counts, threads, onProgress }) {
    const { gif: settings, matte } = recipe.weigh;
    const isSampled = isInParts && hasOnePalette(settings.palette, settings.colors);
    const sampled = isSampled ? await sample() : undefined;
    const rendering = startRendering({
      ...{ reel: plan.reel, settings, matte, plays: recipe.plays, isOpaque, counts, threads },
      sample: sampled?.map((frame) => copyToShared(frame, threads)),
      onProgress: ({ step, done }) => onProgress(GIF_DOING[step], done),
    });
    return {
      async add(frames) {
        // Settling works in place.
        rendering.add(frames.map((frame) => copyToShared(frame, threads)));
      },
      async finish() {
        const { bytes, frameBytes, colors, palettes, colours } = rendering.finish();
        const palette = colours.palette.map(hexOf);
        return { bytes, frameBytes, palette: { colors, palette, palettes, paletteShares: colours.shares } };
      },
    };
  },
  read: (bytes, delaysCs) => playGif(readGif(bytes), delaysCs),
};

import { type RenderProgress, startRendering } from '@muted-pond/core/files';
import { playGif, readGif } from '@muted-pond/core/gif';
import { hasOnePalette, hexOf } from '@muted-pond/core/palette';
import { copyToShared, type PixelFrame } from '@muted-pond/core/pixels';
import type { FirstLook } from '@muted-pond/core/settle';
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
    // Settling works in place.
    const copyOf = (frame: PixelFrame) => copyToShared(frame, threads);
    /** What was shown and is not taken yet, and what has been seen of it. */
    const shown: PixelFrame[] = [];
    let look: FirstLook | null = null;
    return {
      look(count) {
        const seen = rendering.look(shown.length + count);
        for (const frame of shown) seen?.add(frame);
        look = seen;
        return (frame) => {
          seen?.add(frame);
          shown.push(copyOf(frame));
        };
      },
      async add(frames) {
        const part = shown.length > 0 ? shown.splice(0, frames.length) : frames.map(copyOf);
        // Of a part that ends sooner than its frames had come, other moments count.
        rendering.add(part, shown.length === 0 ? look : null);
        look = null;
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

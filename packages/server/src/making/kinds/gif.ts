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

/** A part that was shown frame by frame: all that is to be done with it can begin. */
interface SeenPart {
  readonly frames: PixelFrame[];
  readonly look: FirstLook | null;
}

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
    let seen: SeenPart | null = null;
    return {
      look(count) {
        const part: SeenPart = { frames: [], look: rendering.look(count) };
        seen = part;
        return (frame) => {
          part.look?.add(frame);
          part.frames.push(copyOf(frame));
        };
      },
      async add(frames) {
        const part: SeenPart = seen ?? { frames: frames.map(copyOf), look: null };
        seen = null;
        rendering.add(part.frames, part.look);
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

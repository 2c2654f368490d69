import { UserError } from '@muted-pond/core/errors';
import { createFrame, layOnMatte, type PixelFrame } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import { type RenderPlan, withPlaces } from '@muted-pond/core/render';
import { pictureLibrary } from '../../media/index.js';
import type { Maker } from './maker.js';
import { encodePng } from './png.js';

/** One picture: a place of the reel, or the plate. */
export const poster: Maker = {
  places({ weigh }, plan): RenderPlan {
    const { place } = weigh.poster;
    if (typeof place === 'number') {
      if (place < plan.reel.length) return withPlaces(plan, (all) => [all[place]]);
      throw new UserError(
        'no_such_place',
        `The reel has ${plan.reel.length} frames, counted from 0; there is no frame ${place} for the poster.`,
      );
    }
    // With nothing laid over it, what is held is all there is to see.
    const held = plan.still ? { ...plan, still: { ...plan.still, layers: [] } } : plan;
    return withPlaces(held, (all) => [all[0]]);
  },
  async start({ recipe }) {
    let bytes: Uint8Array = new Uint8Array();
    return {
      async add([picture]) {
        bytes = await encodePicture(picture, recipe);
      },
      finish: async () => ({ bytes, frameBytes: [bytes.length], palette: null }),
    };
  },
  async *read(bytes) {
    const sharp = await pictureLibrary();
    const picture = sharp(Buffer.from(bytes)).ensureAlpha();
    const { data, info } = await picture.raw().toBuffer({ resolveWithObject: true });
    yield createFrame(info.width, info.height, new Uint8Array(data));
  },
};

async function encodePicture(picture: PixelFrame, { weigh }: Recipe): Promise<Uint8Array> {
  const { format, quality } = weigh.poster;
  if (format === 'png') return encodePng(picture);
  // A JPEG holds no alpha: what is transparent stands on its ground, or on white.
  const ground = weigh.matte === 'transparent' ? '#ffffff' : weigh.matte;
  const { width, height, rgba } =
    format === 'jpeg' ? layOnMatte(picture, picture, { x: 0, y: 0 }, ground) : picture;
  const sharp = await pictureLibrary();
  const image = sharp(rgba, { raw: { width, height, channels: 4 } });
  const encoded =
    format === 'jpeg'
      ? image.removeAlpha().jpeg({ quality: Math.max(1, Math.round(quality)), mozjpeg: true })
      : image.webp({ quality: Math.round(quality), effort: 6 });
  return encoded.toBuffer();
}

import { UserError } from '@muted-pond/core/errors';
import { type RenderPlan, withPlaces } from '@muted-pond/core/render';
import type { Maker } from './maker.js';
import { decodePng, encodePng } from './png.js';

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
  async start() {
    let bytes: Uint8Array = new Uint8Array();
    return {
      async add([picture]) {
        bytes = await encodePng(picture);
      },
      finish: async () => ({ bytes, frameBytes: [bytes.length], palette: null }),
    };
  },
  async *read(bytes) {
    yield await decodePng(bytes);
  },
};

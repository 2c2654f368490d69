import Joi from 'joi';
import type { FileKind } from '../kind.js';

export interface PosterSettings {
  /** A place of the reel, from 0; or the plate, which is the first place where nothing is held. */
  readonly place: number | 'plate';
}

/** One picture of the loop, for where nothing may move. */
export const poster: FileKind<'poster', PosterSettings> = {
  id: 'poster',
  name: 'Poster',
  extension: 'png',
  mime: 'image/png',
  holds: { motion: false, alpha: 'soft', mostColours: null, leastDelayCs: 0, mostSide: 65_535 },
  settings: {
    schema: Joi.object<PosterSettings>({
      place: Joi.alternatives(Joi.valid('plate'), Joi.number().integer().min(0).max(100_000)).required(),
    }),
    defaults: { place: 'plate' },
  },
};

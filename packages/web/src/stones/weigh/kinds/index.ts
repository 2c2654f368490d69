import type { FileKindId } from '@muted-pond/core/files';
import type { ComponentType } from 'react';
import { ApngFields } from './ApngFields.js';
import { AvifFields } from './AvifFields.js';
import { GifFields } from './GifFields.js';
import { Mp4Fields } from './Mp4Fields.js';
import { PosterFields } from './PosterFields.js';
import { WebmFields } from './WebmFields.js';
import { WebpFields } from './WebpFields.js';

/** The fields of each kind of file, beside those that all share; null where there are none. */
export const KIND_FIELDS: Readonly<Record<FileKindId, ComponentType | null>> = {
  gif: GifFields,
  webp: WebpFields,
  apng: ApngFields,
  avif: AvifFields,
  mp4: Mp4Fields,
  webm: WebmFields,
  poster: PosterFields,
  frames: null,
};

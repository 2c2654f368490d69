import type { FileKindId } from '@muted-pond/core/files';
import type { ComponentType } from 'react';
import { GifFields } from './GifFields.js';

/** The fields of each kind of file, beside those that all share; null where there are none. */
export const KIND_FIELDS: Readonly<Record<FileKindId, ComponentType | null>> = {
  gif: GifFields,
  poster: null,
  frames: null,
};

import { footagePath } from '@muted-pond/core/identity';

const FOOTAGE = '/api/footage/';

/** A working frame, below `/api/footage/`. */
export const frameKey = (footage: string, frame: number) => footagePath(footage, 'frames', frame);
export const frameUrl = (footage: string, frame: number) => FOOTAGE + frameKey(footage, frame);
/** A frame for the strip. */
export const smallUrl = (footage: string, frame: number) => FOOTAGE + footagePath(footage, 'small', frame);
/** One of the places of the strip's first look. */
export const stripUrl = (footage: string, place: number) => FOOTAGE + footagePath(footage, 'strip', place);

/** The fonts there are, what is known of one's own, and their files. */
export const fontsUrl = '/api/fonts';
export const fontUrl = (hash: string) => `${fontsUrl}/${hash}`;
export const fontFileUrl = (id: string) => `${fontUrl(id)}/file`;

/** A mask, a plate, an emblem, a table of colours. */
export const layerUrl = (hash: string) => `/api/layers/${hash}`;

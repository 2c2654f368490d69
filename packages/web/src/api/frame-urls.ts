/**
 * The addresses of pictures below `/api/footage/`: a working frame, a small one, and one of the strip's
 * places.
 */
export const frameKey = (footage: string, frame: number) => `${footage}/frames/${frame}`;
export const frameUrl = (footage: string, frame: number) => `/api/footage/${frameKey(footage, frame)}`;
export const smallUrl = (footage: string, frame: number) => `/api/footage/${footage}/small/${frame}`;

export const stripUrl = (footage: string, place: number) => `/api/footage/${footage}/strip/${place}`;

/** The fonts there are, what is known of one's own, and their files. */
export const fontsUrl = '/api/fonts';
export const fontUrl = (hash: string) => `${fontsUrl}/${hash}`;
export const fontFileUrl = (id: string) => `${fontUrl(id)}/file`;

/** A mask, a plate, an emblem, a table of colours. */
export const layerUrl = (hash: string) => `/api/layers/${hash}`;

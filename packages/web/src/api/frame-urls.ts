/**
 * The addresses of pictures below `/api/footage/`: a working frame, a small one, and one of the strip's
 * places.
 */
export const frameKey = (footage: string, frame: number) => `${footage}/frames/${frame}`;
export const frameUrl = (footage: string, frame: number) => `/api/footage/${frameKey(footage, frame)}`;
export const smallUrl = (footage: string, frame: number) => `/api/footage/${footage}/small/${frame}`;

export const stripUrl = (footage: string, place: number) => `/api/footage/${footage}/strip/${place}`;

/** A painted mask or a retouched plate. */
export const layerUrl = (hash: string) => `/api/layers/${hash}`;

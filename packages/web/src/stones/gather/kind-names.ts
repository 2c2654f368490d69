import type { FootageView } from '@muted-pond/core/api';

/** Container and codec names as people write them; others as the decoder calls them. */
const NAMES: Readonly<Record<string, string>> = {
  mov: 'MP4 or MOV',
  matroska: 'Matroska or WebM',
  avi: 'AVI',
  mpeg: 'MPEG',
  mpegts: 'MPEG transport stream',
  asf: 'Windows Media',
  flv: 'FLV',
  h264: 'H.264',
  hevc: 'HEVC',
  vp8: 'VP8',
  vp9: 'VP9',
  av1: 'AV1',
  mpeg1video: 'MPEG-1',
  mpeg2video: 'MPEG-2',
  mpeg4: 'MPEG-4',
  prores: 'ProRes',
  mjpeg: 'Motion JPEG',
  ffv1: 'FFV1',
  gif: 'GIF',
  apng: 'APNG',
  webp: 'WebP',
  png: 'PNG',
  jpeg: 'JPEG',
  tiff: 'TIFF',
  heif: 'AVIF',
};

const nameOf = (name: string) => NAMES[name] ?? name;

export function kindName({ kind, container, codec }: FootageView): string {
  if (kind !== 'video') return `${nameOf(container)}${kind === 'animation' ? ' animation' : ''}`;
  return container === codec ? nameOf(codec) : `${nameOf(container)}, ${nameOf(codec)}`;
}

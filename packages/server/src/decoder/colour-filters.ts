import type { Size } from '@muted-pond/core/pixels';
import type { VideoFacts } from './facts.js';
import { rawFormatOf } from './raw-pictures.js';

/** Pixel formats that hold red, green and blue: nothing is to be converted. */
const RGB_FORMATS = /^(gbr|rgb|bgr|argb|abgr|0rgb|0bgr|pal8)/;

/**
 * Luminance that becomes as bright as sRGB can be shown without compressing, cd/m² (ITU-R BT.2408, HDR
 * reference white).
 */
const REFERENCE_WHITE = 203;
/** Luminance that becomes sRGB white; brighter is clipped. */
const BRIGHTEST = 1000;
/** Share of the reference white up to which light stays as it is; above, it bends towards white. */
const BEND_FROM = 0.6;

/**
 * Filters from the stored picture to sRGB with square pixels at a size. The decoder turns upright by itself.
 * @param exact to the last bit, for the file; else quicker, for the eye.
 */
export function colourFilters(facts: VideoFacts, size: Size, exact: boolean): string[] {
  const isRgb = RGB_FORMATS.test(facts.pixelFormat);
  const isRgbInside = isRgb || needsGamut(facts);
  const resize =
    isRgbInside && isOwnSize(facts, size) ? [] : [scale(facts, size, isRgbInside, exact), 'setsar=1'];
  return !isRgb && needsGamut(facts) ? [...gamutFilters(facts), ...resize] : resize;
}

function scale(facts: VideoFacts, size: Size, isRgb: boolean, exact: boolean): string {
  const shrink = Math.min(facts.width / size.width, facts.height / size.height);
  // Far smaller, every pixel must count.
  const method = exact && shrink >= 2 ? 'area' : 'bicubic';
  return scaleText(String(size.width), String(size.height), isRgb ? null : facts, method, exact);
}

function scaleText(
  width: string,
  height: string,
  colours: Pick<VideoFacts, 'matrix' | 'range'> | null,
  method: 'area' | 'bicubic',
  exact: boolean,
): string {
  return `scale=${[
    `w=${width}`,
    `h=${height}`,
    ...(colours
      ? [`in_color_matrix=${colours.matrix}`, `in_range=${colours.range === 'full' ? 'pc' : 'tv'}`]
      : []),
    `flags=${method}${exact ? '+accurate_rnd+full_chroma_int+full_chroma_inp' : ''}`,
  ].join(':')}`;
}

/** How the colours of nearly all footage are stored. */
const MOST_COLOURS = { matrix: 'bt709', range: 'limited' } as const;
/** Formats whose bytes are red, green and blue already: they come through such filters as they are. */
const PLAIN_RGB = /^(gbrp|rgb24|bgr24|0rgb|0bgr|rgb0|bgr0)$/;

/** The exact filters of nearly all footage in its own size, for when neither is known. */
export function mostColourFilters(): string[] {
  return [scaleText('iw', 'ih', MOST_COLOURS, 'bicubic', true), 'setsar=1'];
}

/** Whether these are the exact filters of a file at a size. */
export function areMostFilters(facts: VideoFacts, size: Size): boolean {
  if (facts.hasAlpha || facts.interlaced) return false;
  if (PLAIN_RGB.test(facts.pixelFormat)) return isOwnSize(facts, size);
  return (
    rawFormatOf(facts) === 'gbrp' &&
    !needsGamut(facts) &&
    isOwnSize(facts, size) &&
    facts.matrix === MOST_COLOURS.matrix &&
    facts.range === MOST_COLOURS.range
  );
}

function isOwnSize({ width, height, pixelAspect }: VideoFacts, size: Size): boolean {
  return size.width === width && size.height === height && pixelAspect === 1;
}

function needsGamut({ transfer, wideGamut }: VideoFacts): boolean {
  return transfer !== 'sdr' || wideGamut;
}

/**
 * BT.2020 colours to BT.709 primaries; HLG and PQ (ITU-R BT.2100) through light, so that what lies below the
 * reference white keeps its brightness and highlights bend (Möbius) instead of clipping.
 */
function gamutFilters({ transfer, range, matrix, wideGamut }: VideoFacts): string[] {
  const input = [
    `min=${{ bt601: '170m', bt709: '709', bt2020: '2020_ncl' }[matrix]}`,
    `rin=${range === 'full' ? 'full' : 'limited'}`,
    `pin=${wideGamut ? '2020' : '709'}`,
    `tin=${{ sdr: '709', hlg: 'arib-std-b67', pq: 'smpte2084' }[transfer]}`,
  ].join(':');
  if (transfer === 'sdr') return [`zscale=${input}:m=gbr:r=full:p=709:t=709`, 'format=gbrp'];
  return [
    `zscale=${input}:m=gbr:r=full:t=linear:npl=${REFERENCE_WHITE}`,
    'format=gbrpf32le',
    'zscale=p=709',
    `tonemap=tonemap=mobius:param=${BEND_FROM}:peak=${(BRIGHTEST / REFERENCE_WHITE).toFixed(3)}:desat=0`,
    'zscale=t=iec61966-2-1:m=gbr:r=full',
    'format=gbrp',
  ];
}

import type { Size } from '@muted-pond/core/pixels';
import type { VideoFacts } from './facts.js';

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
  const sameSize = size.width === facts.width && size.height === facts.height && facts.pixelAspect === 1;
  const needsGamut = !isRgb && (facts.transfer !== 'sdr' || facts.wideGamut);
  const resize =
    sameSize && (isRgb || needsGamut) ? [] : [scale(facts, size, isRgb || needsGamut, exact), 'setsar=1'];
  return needsGamut ? [...gamutFilters(facts), ...resize] : resize;
}

function scale(facts: VideoFacts, size: Size, isRgb: boolean, exact: boolean): string {
  const shrink = Math.min(facts.width / size.width, facts.height / size.height);
  return `scale=${[
    `w=${size.width}`,
    `h=${size.height}`,
    ...(isRgb ? [] : [`in_color_matrix=${facts.matrix}`, `in_range=${facts.range === 'full' ? 'pc' : 'tv'}`]),
    // Far smaller, every pixel must count.
    `flags=${exact && shrink >= 2 ? 'area' : 'bicubic'}${exact ? '+accurate_rnd+full_chroma_int+full_chroma_inp' : ''}`,
  ].join(':')}`;
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

import { retimeIsoFile } from '@muted-pond/core/containers';
import { av1Crf } from '@muted-pond/core/files';
import { frameSeconds } from '../../encoding/index.js';
import { CORES } from '../../threads/index.js';
import { movieMaker, TO_YUV } from './movie.js';

/** Pictures are taken for sRGB, whose curve is not BT.709's. */
const SRGB = [
  ...[
    '-colorspace',
    'bt709',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'iec61966-2-1',
    '-color_range',
    'tv',
  ],
];

/** AV1 by libaom; alpha stands in a track of its own. */
export const avif = movieMaker({
  encoder: 'libaom-av1',
  settleOf: ({ weigh }) => weigh.avif.settle,
  rounds: () => 1,
  encoding: ({ weigh }, _, isOpaque) => ({
    container: 'avif',
    filters: isOpaque ? [TO_YUV, 'format=yuv420p'] : [],
    graph: isOpaque
      ? undefined
      : [`split[c][a];[c]${TO_YUV},format=yuv420p[colour];[a]alphaextract,format=gray[alpha]`],
    options: [
      ...(isOpaque ? [] : ['-map', '[colour]', '-map', '[alpha]']),
      ...['-crf', String(av1Crf(weigh.avif.quality)), '-b:v', '0', ...SRGB],
      // Alpha counts from 0 to 255: told otherwise, browsers would draw its edges harder than they are.
      ...(isOpaque ? [] : ['-color_range:v:1', 'pc']),
      // Its bytes are the same however many threads there are.
      ...['-cpu-used', '6', '-row-mt', '1', '-threads', String(CORES)],
    ],
  }),
  finish: (bytes, { plays }, times) => retimeIsoFile(bytes, { seconds: frameSeconds(times), plays }),
  decoder: null,
});

import { withMatroskaDuration } from '@muted-pond/core/containers';
import { roundsOf, vp9Crf } from '@muted-pond/core/files';
import { BT709, FIXED_THREADS, movieMaker, TO_YUV } from './movie.js';

/** VP9 by libvpx. */
export const webm = movieMaker({
  encoder: 'libvpx-vp9',
  settleOf: ({ weigh }) => weigh.webm.settle,
  rounds: ({ weigh }, seconds) => roundsOf(weigh.webm, seconds),
  encoding: ({ weigh }, _, isOpaque) => ({
    container: 'webm',
    filters: [TO_YUV, isOpaque ? 'format=yuv420p' : 'format=yuva420p'],
    options: [
      ...['-crf', String(vp9Crf(weigh.webm.quality)), '-b:v', '0', ...BT709],
      ...['-deadline', 'good', '-cpu-used', '2', '-row-mt', '1', ...FIXED_THREADS],
      // The encoder looks ahead for colours and alpha apart, and would mix up their frames.
      ...(isOpaque ? [] : ['-auto-alt-ref', '0']),
    ],
  }),
  finish: (bytes, _, { seconds }) => withMatroskaDuration(bytes, seconds * 1000),
  decoder: 'libvpx-vp9',
});

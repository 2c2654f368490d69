import { retimeIsoFile } from '@muted-pond/core/containers';
import { h264Crf, roundsOf } from '@muted-pond/core/files';
import { frameSeconds } from '../../encoding/index.js';
import { BT709, FIXED_THREADS, movieMaker, TO_YUV } from './movie.js';

/** Sides as 4:2:0 has them. */
const EVEN = {
  crop: (side: number) => Math.max(2, side - (side % 2)),
  pad: (side: number) => side + (side % 2),
};

/** H.264 by x264. */
export const mp4 = movieMaker({
  encoder: 'libx264',
  settleOf: ({ weigh }) => weigh.mp4.settle,
  rounds: ({ weigh }, seconds) => roundsOf(weigh.mp4, seconds),
  sizeOf: ({ weigh }, { width, height }) => {
    const even = EVEN[weigh.mp4.odd];
    return { width: even(width), height: even(height) };
  },
  encoding: ({ weigh }, times) => ({
    container: 'mp4',
    filters: [TO_YUV, 'format=yuv420p'],
    mostBytes: weigh.mp4.bytes ?? undefined,
    options: [
      ...['-preset', 'slow', '-profile:v', 'high', ...BT709, ...FIXED_THREADS],
      ...(weigh.mp4.bytes === null ? ['-crf', String(h264Crf(weigh.mp4.quality))] : []),
      // Frames of uneven times stand in the order in which they are shown, so that each keeps its own time.
      ...(times.isEven ? [] : ['-bf', '0', '-video_track_timescale', '1000']),
      // What the encoder writes about itself is of use to nobody.
      ...['-bsf:v', 'filter_units=remove_types=6'],
    ],
  }),
  finish: (bytes, _, times, rounds) =>
    retimeIsoFile(bytes, { seconds: times.isEven ? null : frameSeconds(times, rounds), plays: null }),
  decoder: null,
});

import { fileKind, patienceOf } from '@muted-pond/core/files';
import { layOnMatte, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import type { RenderPlan } from '@muted-pond/core/render';
import {
  type Encoder,
  type MovieTimes,
  type MovieWish,
  movieTimes,
  startMovie,
} from '../../encoding/index.js';
import { factsOfMovie, type MovieDecoder, readMovie } from '../../media/index.js';
import type { FileMaking, Maker, MakerContext } from './maker.js';
import { settledCopy } from './settled-copy.js';

/** What a kind says of how its movie is encoded. */
export interface MovieEncoder {
  readonly encoder: Encoder;
  /** Levels, before they are weighed by how long frames stay. */
  settleOf(recipe: Recipe): number;
  rounds(recipe: Recipe, roundSeconds: number): number;
  encoding(
    recipe: Recipe,
    times: MovieTimes,
    isOpaque: boolean,
  ): Pick<MovieWish, 'container' | 'options' | 'filters' | 'graph' | 'mostBytes'>;
  /** The bytes as they leave the encoder, put right. */
  finish(bytes: Uint8Array, recipe: Recipe, times: MovieTimes, rounds: number): Uint8Array;
  readonly decoder: MovieDecoder;
  sizeOf?(recipe: Recipe, size: Size): Size;
}

/** Converts sRGB to the colours that players assume: BT.709, studio range. */
export const TO_YUV = 'scale=out_color_matrix=bt709:out_range=tv:flags=bicubic';
/** A number of threads of its own: then the same frames make the same file on every machine. */
export const FIXED_THREADS = ['-threads', '4'];

export const BT709 = [
  ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'],
];

const CORNER = { x: 0, y: 0 };

/** A maker whose frames go through ffmpeg. */
export function movieMaker(encoder: MovieEncoder): Maker {
  const roundsOf = (recipe: Recipe, { reel }: RenderPlan) =>
    encoder.rounds(recipe, movieTimes(reel, 1).seconds);
  return {
    encoder: encoder.encoder,
    rounds: roundsOf,
    sizeOf: encoder.sizeOf,
    async start(context: MakerContext): Promise<FileMaking> {
      const { recipe, plan, isOpaque, threads, onProgress } = context;
      const rounds = roundsOf(recipe, plan);
      const times = movieTimes(plan.reel, rounds);
      const size = encoder.sizeOf?.(recipe, plan.size) ?? plan.size;
      const levels = encoder.settleOf(recipe) / patienceOf(plan.reel);
      const { kind, matte } = recipe.weigh;
      const onMatte = !isOpaque && fileKind(kind).holds.alpha === 'none';
      const isSolid = isOpaque || onMatte;
      const laid = (frame: PixelFrame) => (onMatte ? layOnMatte(frame, frame, CORNER, matte) : frame);
      const movie = await startMovie({
        ...{ encoder: encoder.encoder, size, times, rounds },
        ...encoder.encoding(recipe, times, isSolid),
        onFrame: (count) => onProgress('encoding', count / plan.reel.length),
      });
      return {
        add: (frames: readonly PixelFrame[]) =>
          movie.add(settledCopy(frames.map(laid), levels, isSolid, threads)),
        async finish() {
          const bytes = encoder.finish(await movie.finish(), recipe, times, rounds);
          const frameBytes = async () => (await factsOfMovie(bytes)).frameBytes.slice(0, plan.reel.length);
          return { bytes, frameBytes, palette: null };
        },
        abandon: () => movie.abandon(),
      };
    },
    // A movie of several rounds is read as far as one goes: whoever compares stops there.
    read: (bytes) => readMovie(bytes, encoder.decoder),
  };
}

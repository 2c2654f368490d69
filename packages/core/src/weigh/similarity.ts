import {
  assertOneSize,
  createFrame,
  type ParallelJob,
  type PixelFrame,
  SINGLE_THREAD,
  type ThreadPool,
} from '../pixels/index.js';
import { frameSimilarity } from './frame-similarity.js';

/** Pairs of frames to be compared, one a part. */
export interface SimilarityWork extends ParallelJob<'similarity'> {
  readonly references: readonly PixelFrame[];
  readonly outputs: readonly PixelFrame[];
  /** What is written: SSIM of each pair. */
  readonly scores: Float64Array;
}

/** What one thread compares frames with. */
export function startComparing({ references, outputs, scores }: SimilarityWork) {
  return (part: number): void => {
    scores[part] = frameSimilarity(references[part], outputs[part]);
  };
}

/** Pixels that are held at once for the threads, and pairs of frames, however small. */
const MOST_PIXELS = 2e6;
const MOST_PAIRS = 32;

/**
 * Mean SSIM over the frames alone, 1 is equal: what a trial tells. Takes a reference and an output at a time,
 * in order; a few pairs are held until the threads compare them together.
 */
export interface SimilarityMeter {
  add(reference: PixelFrame, output: PixelFrame): void;
  /** @throws RangeError where nothing was compared. */
  result(): number;
}

export function createSimilarityMeter(threads: ThreadPool = SINGLE_THREAD): SimilarityMeter {
  let held = 0;
  let work: SimilarityWork | null = null;
  let frames = 0;
  let sum = 0;

  /** Memory that all threads see, for as many pairs as are held at once; reused. */
  function makeRoom({ width, height }: PixelFrame): SimilarityWork {
    const pairs = Math.max(1, Math.min(MOST_PAIRS, Math.floor(MOST_PIXELS / (width * height))));
    const room = () =>
      Array.from({ length: pairs }, () =>
        createFrame(width, height, new Uint8Array(threads.allocate(width * height * 4))),
      );
    const scores = new Float64Array(threads.allocate(pairs * 8));
    return { kind: 'similarity', references: room(), outputs: room(), scores };
  }

  function compare({ scores, ...rest }: SimilarityWork): void {
    threads.run({ ...rest, scores }, held, startComparing);
    for (let pair = 0; pair < held; pair++) sum += scores[pair];
    frames += held;
    held = 0;
  }

  return {
    add(reference, output) {
      assertOneSize([reference, output]);
      work ??= makeRoom(reference);
      assertOneSize([work.references[0], reference]);
      work.references[held].rgba.set(reference.rgba);
      work.outputs[held].rgba.set(output.rgba);
      held++;
      if (held === work.references.length) compare(work);
    },
    result() {
      if (work && held > 0) compare(work);
      if (frames === 0) throw new RangeError('No frames were compared.');
      return sum / frames;
    },
  };
}

import { startRendering } from '@muted-pond/core/files';
import { playGif, readGif } from '@muted-pond/core/gif';
import { copyToShared, createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { newStillsRecipe, type SourceFile, takeOf } from '@muted-pond/core/recipe';
import { framesOf, NOTHING_KEPT, planRender, startSteps } from '@muted-pond/core/render';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { helperThreads } from './helper-threads.js';

/** A size as people make them: what is compiled for small pictures is compiled again for large ones. */
const SIZE = { width: 480, height: 270 };
const FRAMES = 6;

/**
 * Makes a file of made-up pictures and throws it away: kernels are compiled, helpers started and loops
 * optimised before the first person waits for a file.
 */
export async function warmUp(): Promise<number> {
  const files = Array.from({ length: FRAMES }, (_, i): SourceFile => {
    const size = { width: SIZE.width * 2, height: SIZE.height * 2 };
    return { hash: String(i).padStart(64, '0'), size, times: { starts: [0], duration: 1 } };
  });
  const base = newStillsRecipe(files);
  const recipe = { ...base, weigh: { ...base.weigh, width: SIZE.width } };
  const plan = planRender(recipe, takeOf(recipe, files));
  const run = await startSteps(plan, {
    sizeOf: (_, best) => best,
    async *read(file, frames, size) {
      for (const frame of frames) yield { frame, picture: madeUp(size, Number(file.hash)) };
    },
    ...NOTHING_KEPT,
  });
  await run.read(framesOf(plan));
  const threads = helperThreads();
  const reel = plan.reel.map((pick, place) => ({ ...pick, source: place }));
  const frames = reel.map((_, place) => run.show(place));
  const rendering = startRendering({ reel, settings: recipe.weigh.gif, plays: 0, threads });
  rendering.add(frames.map((frame) => copyToShared(frame, threads)));
  const { bytes } = rendering.finish();
  const meter = createSimilarityMeter(threads);
  const delays = reel.map((pick) => pick.delayCs);
  let place = 0;
  for (const picture of playGif(readGif(bytes), delays)) meter.add(frames[place++], picture);
  return meter.result();
}

/** Smooth ground, and a light that moves over it. */
function madeUp({ width, height }: { width: number; height: number }, turn: number): PixelFrame {
  const frame = createFrame(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const light = Math.hypot(x - width * (0.3 + 0.05 * turn), y - height / 2) < height / 6 ? 90 : 0;
      frame.rgba[i] = 60 + (x * 80) / width + light;
      frame.rgba[i + 1] = 50 + (y * 90) / height + light;
      frame.rgba[i + 2] = 90 + ((x + y) % 13) + light;
      frame.rgba[i + 3] = 255;
    }
  }
  return frame;
}

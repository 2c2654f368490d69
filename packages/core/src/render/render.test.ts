import { describe, expect, it } from 'vitest';
import { playGif, readGif } from '../gif/index.js';
import { newRecipe } from '../recipe/index.js';
import { readWithFfmpeg } from '../testing/independent-readers.js';
import { copyOf, movingBall } from '../testing/pictures.js';
import { measureLikeness } from '../weigh/index.js';
import { createComposer, planRender, renderGif } from './index.js';

const times = { starts: Array.from({ length: 24 }, (_, i) => i / 24), duration: 1 };
const recipe = newRecipe('0'.repeat(64), times);

describe('from recipe and frames to a file', () => {
  it('has the planned size and length, and looks like the reel', () => {
    const footage = movingBall(160, 90, 24, { grain: 2 });
    const plan = planRender({ ...recipe, weigh: { ...recipe.weigh, width: 80 } }, times, footage[0]);
    expect(plan.size).toEqual({ width: 80, height: 45 });
    const compose = createComposer(footage[0], plan);
    const reel = plan.reel.map((pick) => compose(footage[pick.source]));
    const steps: string[] = [];
    const made = renderGif(
      copyOf(reel),
      plan.reel,
      { ...recipe.weigh, dither: 'none' },
      0,
      ({ step, done }) => {
        expect(done).toBeLessThanOrEqual(1);
        if (steps.at(-1) !== step) steps.push(step);
      },
    );
    expect(steps).toEqual(['settle', 'palette', 'dither', 'write']);
    const others = readWithFfmpeg(made.bytes, 80, 45);
    expect(others.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(100);
    const delays = plan.reel.map((pick) => pick.delayCs);
    expect(measureLikeness(reel, playGif(readGif(made.bytes), delays)).ssim).toBeGreaterThan(0.93);
  });

  it('gives the same bytes for the same frames, every time', () => {
    const reel = movingBall(60, 40, 6, { grain: 6 });
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const once = renderGif(copyOf(reel), picks, recipe.weigh, 0).bytes;
    expect(Buffer.compare(renderGif(copyOf(reel), picks, recipe.weigh, 0).bytes, once)).toBe(0);
  });

  it('weighs less from near lossless to small', () => {
    const reel = movingBall(120, 80, 10, { grain: 5 });
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const weights = [
      { settle: 0, squeeze: 0 },
      { settle: 2.5, squeeze: 0 },
      { settle: 6, squeeze: 9 },
    ].map((quality) => renderGif(copyOf(reel), picks, { ...recipe.weigh, ...quality }, 0).bytes.length);
    expect(weights[1]).toBeLessThan(weights[0]);
    expect(weights[2]).toBeLessThan(weights[1]);
  });
});

import { createCompose } from '../compose.js';
import type { DecodedStep } from './step.js';

/**
 * Each picture takes its place on the canvas, is cropped, turned, laid into the box and resized, all in one
 * resampling.
 */
export const place: DecodedStep = {
  name: 'place',
  dependsOn(plan, frames) {
    // Frames lie alike but for a few: each way is written once, and named by its place in the list.
    const ways: string[] = [];
    const wayOf = frames.map((frame) => {
      const way = JSON.stringify(plan.composition(frame));
      if (!ways.includes(way)) ways.push(way);
      return ways.indexOf(way);
    });
    return [ways, wayOf];
  },
  async prepare({ size, composition }) {
    return { apply: createCompose(size, composition) };
  },
};

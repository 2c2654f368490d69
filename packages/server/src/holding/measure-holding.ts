import type { HoldingFigures } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { sizeWithin } from '@muted-pond/core/pixels';
import { takeOf } from '@muted-pond/core/recipe';
import { framesOf, HOLDING_SIDE, planHolding, startSteps } from '@muted-pond/core/render';
import { type MakingTask, openFrameSource, sourceFile } from '../making/index.js';

/**
 * Takes the frames of the reel through the steps in small, as making the file does, and tells how far camera
 * and light strayed.
 * @throws RangeError where nothing is held, or the source does not move.
 */
export async function measureHolding(
  task: MakingTask,
  onProgress: (done: number) => void,
): Promise<HoldingFigures> {
  const plan = planHolding(task.recipe, takeOf(task.recipe, task.files.map(sourceFile)));
  if (!plan.still || task.files[0].facts.kind === 'picture') {
    throw new UserError('nothing_held', 'Nothing is held still here. Hold a frame of footage first.');
  }
  const source = openFrameSource(task.files, task.layers, (file) => sizeWithin(file.size, HOLDING_SIDE));
  const run = await startSteps(plan, source);
  await run.read(framesOf(plan), onProgress);
  return run.figures();
}

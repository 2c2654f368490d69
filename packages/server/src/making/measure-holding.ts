import type { HoldingFigures } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { sizeWithin } from '@muted-pond/core/pixels';
import { takeOf } from '@muted-pond/core/recipe';
import { framesOf, planRender, startSteps } from '@muted-pond/core/render';
import { openFrameSource } from './frame-source.js';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';

/** Longer side of the frames that are measured, px. */
export const MEASURED_SIDE = 640;

/** What is measured: the piece at one size, whatever width the file will have. */
export function planHolding({ files, recipe }: Pick<MakingTask, 'files' | 'recipe'>) {
  const weigh = { ...recipe.weigh, width: MEASURED_SIDE };
  return planRender({ ...recipe, weigh }, takeOf(recipe, files.map(sourceFile)));
}

/**
 * Takes the frames of the reel through the steps in small, as making the file does, and tells how far camera
 * and light strayed.
 * @throws RangeError where nothing is held, or the source does not move.
 */
export async function measureHolding(
  task: MakingTask,
  onProgress: (done: number) => void,
): Promise<HoldingFigures> {
  const plan = planHolding(task);
  if (!plan.still || task.files[0].facts.kind === 'picture') {
    throw new UserError('nothing_held', 'Nothing is held still here. Hold a frame of footage first.');
  }
  const source = openFrameSource(task.files, task.layers, (file) => sizeWithin(file.size, MEASURED_SIDE));
  const run = await startSteps(plan, source);
  await run.read(framesOf(plan), onProgress);
  return run.figures();
}

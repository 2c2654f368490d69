import type { MotionView } from '@muted-pond/core/api';
import type { Span } from '@muted-pond/core/timing';
import { type MakingFile, mapFootage } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

interface MotionTask {
  readonly file: MakingFile;
  readonly span: Span;
}

/** Where a stretch of a file moves, as it travels to the interface. */
export default progressWorker(async ({ file, span }: MotionTask): Promise<MotionView> => {
  const { width, height, labels, parts } = await mapFootage(file, span);
  return {
    width,
    height,
    labels: Buffer.from(labels).toString('base64'),
    parts: parts.map(({ area, spread }) => ({ area, spread })),
  };
});

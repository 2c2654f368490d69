import { alignSize, lumaOf, MOTION_FRAMES, type MotionMap, mapMotion } from '@muted-pond/core/motion';
import type { Span } from '@muted-pond/core/timing';
import { decodeFrames } from '../media/index.js';
import type { MakingFile } from './making-file.js';

/** Where footage moves within a span: frames spread over it, decoded small. */
export async function mapFootage(
  { path, name, facts }: Omit<MakingFile, 'hash'>,
  span: Span,
): Promise<MotionMap> {
  const size = alignSize(facts);
  const length = span.end - span.start;
  const count = Math.min(MOTION_FRAMES, length);
  const frames = Array.from({ length: count }, (_, i) => span.start + Math.floor((i * length) / count));
  const lumas = [];
  for await (const { data } of decodeFrames({ path, name, facts, frames, size, format: 'rgba' })) {
    lumas.push(lumaOf(data, size, size));
  }
  return mapMotion(lumas);
}

import type { LoopReel } from './loop-reel.js';

/**
 * How many frames of a joint are mixed with a picture of another scene than the one that the reel begins with:
 * no mixture hides that.
 * @param cuts first frames of other scenes, rising.
 */
export function mixedWithOtherScenes(
  { items, melted }: Pick<LoopReel, 'items' | 'melted'>,
  cuts: readonly number[],
): number {
  if (melted === 0 || cuts.length === 0) return 0;
  const sceneOf = (frame: number) => cuts.filter((cut) => cut <= frame).length;
  const first = sceneOf(items[0].source);
  return items.slice(-melted).filter(({ blend }) => blend && sceneOf(blend.source) !== first).length;
}

import { JOINS, type JoinSettings } from './joins/index.js';
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
  const end = items.length - melted;
  return items.filter(
    ({ blend }, place) => blend && (blend.led || place >= end) && sceneOf(blend.source) !== first,
  ).length;
}

/**
 * The most frames that each join could be without another scene showing through it.
 * @param loopBy the same span, joined in some way.
 */
export function longestInScene(
  longest: LoopReel['longest'],
  loopBy: (join: JoinSettings) => LoopReel,
  cuts: readonly number[],
): LoopReel['longest'] {
  if (cuts.length === 0) return longest;
  const inScene = JOINS.map(({ kind, length, over }) => {
    const most = longest[kind];
    const foreign = length && most > 0 ? mixedWithOtherScenes(loopBy(over(most)), cuts) : 0;
    const kept = most - foreign;
    return [kind, kept < (length?.min ?? 0) ? 0 : kept];
  });
  return Object.fromEntries(inScene) as LoopReel['longest'];
}

import {
  type JointFault,
  type JointScore,
  joinOf,
  type LedFigures,
  ownWeave,
  REEL_WEAVE,
} from '@muted-pond/core/loop';
import type { WovenSeam } from '@muted-pond/core/render';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { useWeaving } from '../../weave/use-weaving.js';

/** The joint of a piece as it is known now. */
export interface SeamNow {
  /** 0–100: of the worst joint in it. */
  readonly score: number;
  /** What is seen most of that one, and where: 1 as much as alone makes a score of 50. */
  readonly fault: JointFault;
  readonly map: JointScore['map'] | WovenSeam['map'];
  /** What could be led, where its end flows into its start; null where it does not. */
  readonly led: LedFigures | null;
  /** Whether the whole reel is woven, and not only parts of it. */
  readonly isWoven: boolean;
  /** Whether it is of settings before the present ones. */
  readonly isStale: boolean;
}

/**
 * The seam as it is measured: on the footage, and on what was woven.
 * @returns `woven-later` where something is still to be woven, `measuring` where it is not measured yet; null where
 * there is nothing to measure.
 */
export function useSeamNow(): SeamNow | 'woven-later' | 'measuring' | null {
  const { seams, store } = useWorkspace();
  const measured = useStore(seams, (state) => state.measured);
  const isComing = useStore(seams, ({ found, unmeasured }) => found !== null && unmeasured === null);
  const isMeasureStale = useStore(seams, (state) => state.isMeasureStale);
  const join = useStore(store, (state) => shownRecipe(state).loop.join);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const still = useStore(store, (state) => shownRecipe(state).still);
  const weaving = useWeaving();
  const parts = weaving?.parts ?? {};
  if (!measured) return isComing ? 'measuring' : null;
  if (!measured.seam) return null;
  const shown = still.plate ? still.ripples.filter((ripple) => ripple.shown) : [];
  const closing = joinOf(join);
  const goesWithReel = !still.plate || shown.some(({ loop }) => loop === null);
  const isWoven = closing.woven !== undefined && !closing.missing?.(join, span) && goesWithReel;
  const names = [
    ...(isWoven ? [REEL_WEAVE] : []),
    ...shown.flatMap(({ loop }) => (loop && ownWeave(loop)?.name) ?? []),
  ];
  const woven = names.map((name) => parts[name]?.seam);
  if (woven.some((seam) => !seam)) return 'woven-later';
  const worst = [measured.seam, ...woven].reduce((a, b) => (b.score < a.score ? b : a));
  return {
    ...{ score: worst.score, fault: worst.fault, map: worst.map, isWoven },
    led: measured.seam.led ?? null,
    isStale: isMeasureStale || (woven.length > 0 && weaving?.state !== 'done'),
  };
}

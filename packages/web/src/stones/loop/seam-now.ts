import { joinOf, ownWeave, REEL_WEAVE } from '@muted-pond/core/loop';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { useWeaving } from '../../weave/use-weaving.js';

/** The joint of a piece as it is known now. */
export interface SeamNow {
  /** 0–100: of the worst joint in it. */
  readonly score: number;
  /** How far the picture jumps, in usual steps; of a woven reel, its largest step. */
  readonly jump: number;
  /** Whether the whole reel is woven, and not only parts of it. */
  readonly isWoven: boolean;
  /** Whether it is of settings before the present ones. */
  readonly isStale: boolean;
}

/**
 * The seam as it is measured: on signatures of the footage, and on what was woven.
 * @returns `woven-later` where something is still to be woven; null where there is nothing to measure.
 */
export function useSeamNow(): SeamNow | 'woven-later' | null {
  const { seams, store } = useWorkspace();
  const measured = useStore(seams, (state) => state.answer?.seam ?? null);
  const join = useStore(store, (state) => shownRecipe(state).loop.join);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const still = useStore(store, (state) => shownRecipe(state).still);
  const isStale = useStore(seams, (state) => state.stale);
  const weaving = useWeaving();
  const parts = weaving?.parts ?? {};
  if (!measured) return null;
  const shown = still.plate ? still.ripples.filter((ripple) => ripple.shown) : [];
  const closing = joinOf(join);
  const goesWithReel = !still.plate || shown.some(({ loop }) => loop === null);
  const isWoven = closing.woven !== undefined && !closing.missing?.(join, span) && goesWithReel;
  const names = [
    ...(isWoven ? [REEL_WEAVE] : []),
    ...shown.flatMap(({ loop }) => (loop && ownWeave(loop)?.name) ?? []),
  ];
  const woven = names.map((name) => parts[name]);
  if (woven.some((part) => !part)) return 'woven-later';
  return {
    score: Math.min(measured.score, ...woven.map((part) => part.joint.score)),
    jump: isWoven ? woven[0].joint.step : measured.jump,
    isWoven,
    isStale: isStale || (woven.length > 0 && weaving?.state !== 'done'),
  };
}

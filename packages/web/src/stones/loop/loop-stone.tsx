import { joinOf } from '@muted-pond/core/loop';
import { useStore } from 'zustand';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useReelWeave } from '../../piece/weaving.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { Stone } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';
import { formatSeconds } from '../../ui/format.js';

export const loopStone: Stone = {
  id: 'loop',
  name: 'Loop',
  Value: LoopValue,
  load: () => import('./loop-screen.js'),
};

/** The seam's score; for what has none, how long a round is. */
function LoopValue() {
  const { seams, store } = useWorkspace();
  const join = useStore(store, (state) => shownRecipe(state).loop.join);
  const woven = useReelWeave();
  const measured = useStore(seams, (state) => state.answer?.seam?.score);
  const score = joinOf(join).woven && woven ? woven.joint.score : measured;
  const { loop } = usePieceLoop();
  if (score !== undefined) return `seam ${Math.round(score)}`;
  if (!loop) return 'no reel';
  const cs = loop.reel.slice(0, loop.round).reduce((sum, pick) => sum + pick.delayCs, 0);
  return formatSeconds(cs / 100);
}

import { usePieceLoop } from '../../piece/piece-loop.js';
import type { Stone } from '../../stone/stone.js';
import { formatSeconds } from '../../ui/format.js';
import { useSeamNow } from './seam-now.js';

export const loopStone: Stone = {
  id: 'loop',
  name: 'Loop',
  Value: LoopValue,
  load: () => import('./loop-screen.js'),
};

/** The seam's score; for what has none, how long a round is. */
function LoopValue() {
  const seam = useSeamNow();
  const { loop } = usePieceLoop();
  if (seam === 'woven-later') return 'being woven';
  if (seam === 'measuring') return 'seam …';
  if (seam) return `seam ${Math.round(seam.score)}`;
  if (!loop) return 'no reel';
  const cs = loop.reel.slice(0, loop.round).reduce((sum, pick) => sum + pick.delayCs, 0);
  return formatSeconds(cs / 100);
}

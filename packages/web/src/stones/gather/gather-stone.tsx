import { useTake } from '../../piece/piece-take.js';
import type { Stone } from '../../stone/stone.js';

export const gatherStone: Stone = {
  id: 'gather',
  name: 'Gather',
  Value: GatherValue,
  load: () => import('./gather-screen.js'),
};

function GatherValue() {
  const { kind, frameCount } = useTake();
  if (kind === 'stills') return frameCount === 1 ? '1 picture' : `${frameCount} pictures`;
  return kind === 'animation' ? '1 animation' : '1 clip';
}

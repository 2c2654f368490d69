import type { Stone } from '../../stone/stone.js';

export const dressStone: Stone = {
  id: 'dress',
  name: 'Dress',
  built: false,
  Value: DressValue,
  load: () => import('./dress-screen.js'),
};

function DressValue() {
  return 'not built yet';
}

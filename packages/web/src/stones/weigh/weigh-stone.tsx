import type { Stone } from '../../stone/stone.js';
import { WeighValue } from './WeighValue.js';

export const weighStone: Stone = {
  id: 'weigh',
  name: 'Weigh',
  Value: WeighValue,
  load: () => import('./weigh-screen.js'),
};

import type { Stone } from '../stone.js';
import { TrialLedger } from './TrialLedger.js';
import { TrialStage } from './TrialStage.js';
import { WeighBank } from './WeighBank.js';
import { WeighValue } from './WeighValue.js';

export const weighStone: Stone = {
  id: 'weigh',
  name: 'Weigh',
  built: true,
  Value: WeighValue,
  Stage: TrialStage,
  Bank: WeighBank,
  Lower: TrialLedger,
};

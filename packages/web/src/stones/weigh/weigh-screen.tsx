import type { StoneScreen } from '../../stone/stone.js';
import { TrialLedger } from './TrialLedger.js';
import { TrialStage } from './TrialStage.js';
import { WeighBank } from './WeighBank.js';

export const screen: StoneScreen = { Stage: TrialStage, Bank: WeighBank, Lower: TrialLedger };

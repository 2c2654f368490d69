import type { HoldingFigures } from '@muted-pond/core/api';
import { type MakingTask, measureHolding } from '../making/index.js';
import { toldWorker } from '../threads/index.js';

export default toldWorker<MakingTask, number, HoldingFigures>(measureHolding);

import type { HoldingFigures } from '@muted-pond/core/api';
import type { MakingTask } from '../making/index.js';
import { progressWorker } from '../threads/index.js';
import { measureHolding } from './measure-holding.js';

export default progressWorker<MakingTask, number, HoldingFigures>(measureHolding);

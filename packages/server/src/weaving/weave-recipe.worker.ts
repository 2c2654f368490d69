import { type MakingTask, type WovenParts, weaveRecipe } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<MakingTask, number, WovenParts>(weaveRecipe);

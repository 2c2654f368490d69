/**
 * `npm run bench [-- weight|trial|fit|long|long-kinds|stage|gather|loop|still|rates|load|first|dress|drag|send|woven|flow|flowed|joints|slow|calibrate …]`: the figures we hold
 * ourselves to, each measured in this run.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { benchDrag } from './drag.js';
import { benchDress } from './dress.js';
import { benchFirst } from './first.js';
import { benchFit } from './fit.js';
import { benchFlow } from './flow.js';
import { benchFlowed } from './flowed.js';
import { benchGather } from './gather.js';
import { benchJoints } from './joints.js';
import { benchLoad } from './load.js';
import { benchLong, benchLongKinds } from './long.js';
import { benchLoop } from './loop.js';
import { benchRates } from './rates.js';
import { benchSend } from './send.js';
import { benchSlow } from './slow.js';
import { benchStage } from './stage.js';
import { benchStill } from './still.js';
import { benchTrial } from './trial.js';
import { benchWeight } from './weight.js';
import { benchWoven, calibrateWoven } from './woven.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'muted-pond-bench-'));
const parts = {
  weight: benchWeight,
  trial: benchTrial,
  fit: benchFit,
  long: benchLong,
  'long-kinds': benchLongKinds,
  stage: benchStage,
  gather: benchGather,
  loop: benchLoop,
  still: benchStill,
  rates: benchRates,
  load: benchLoad,
  first: benchFirst,
  dress: benchDress,
  drag: benchDrag,
  send: benchSend,
  woven: benchWoven,
  flow: benchFlow,
  flowed: benchFlowed,
  joints: benchJoints,
  slow: benchSlow,
  calibrate: calibrateWoven,
};
/** Run only when named. */
const ON_CALL: readonly string[] = ['calibrate'];
const wanted = process.argv.slice(2);
try {
  for (const [name, part] of Object.entries(parts)) {
    if (wanted.length === 0 ? !ON_CALL.includes(name) : wanted.includes(name)) await part(root, work);
  }
} finally {
  rmSync(work, { recursive: true, force: true });
}

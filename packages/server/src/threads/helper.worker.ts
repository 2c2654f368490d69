import { parentPort } from 'node:worker_threads';
import { collectNow } from './collect-garbage.js';
import { COLLECT, type HelperMessage, takeParts } from './helper-threads.js';

parentPort?.on('message', (message: HelperMessage | typeof COLLECT) => {
  if (message === COLLECT) collectNow();
  else takeParts(message);
});
parentPort?.postMessage('ready');

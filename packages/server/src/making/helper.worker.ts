import { parentPort } from 'node:worker_threads';
import { type HelperMessage, takeParts } from './helper-threads.js';

parentPort?.on('message', (message: HelperMessage) => takeParts(message));
parentPort?.postMessage('ready');

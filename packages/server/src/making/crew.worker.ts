import { parentPort } from 'node:worker_threads';
import { type CrewMessage, takeParts } from './crew.js';

parentPort?.on('message', (message: CrewMessage) => takeParts(message));
parentPort?.postMessage('ready');

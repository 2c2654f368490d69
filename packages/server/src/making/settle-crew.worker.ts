import { parentPort } from 'node:worker_threads';
import { type CrewMessage, takeStrips } from './settle-crew.js';

parentPort?.on('message', (message: CrewMessage) => takeStrips(message));

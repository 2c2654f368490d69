import { type MessagePort, parentPort } from 'node:worker_threads';
import { serveReading, type ThreadRequest } from './reading-work.js';

parentPort?.on('message', ({ request, port }: { request: ThreadRequest; port: MessagePort }) =>
  serveReading(request, port),
);

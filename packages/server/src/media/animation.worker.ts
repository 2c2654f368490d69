import { type MessagePort, parentPort } from 'node:worker_threads';
import { serveAnimation, type ThreadRequest } from './animation-work.js';

parentPort?.on('message', ({ request, port }: { request: ThreadRequest; port: MessagePort }) =>
  serveAnimation(request, port),
);

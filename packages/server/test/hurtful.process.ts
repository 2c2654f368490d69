import { UserError } from '@muted-pond/core/errors';
import { serveRequests } from '../src/processes/index.js';

export type HurtfulRequest = 'pid' | 'refuse' | 'exit' | 'abort' | 'fill the heap' | 'take memory' | 'spin';

/** Does what a file can make its reader do. */
serveRequests<HurtfulRequest, number>(async (request) => {
  switch (request) {
    case 'refuse':
      throw new UserError('bad_font', 'No font.');
    case 'exit':
      process.exit(0);
      break;
    case 'abort':
      process.abort();
      break;
    case 'fill the heap':
      for (const kept: number[][] = []; ; ) kept.push(new Array(1e6).fill(1.5));
    case 'take memory':
      for (const kept: Buffer[] = []; ; ) {
        kept.push(Buffer.alloc(64 * 1024 ** 2, 1));
        await new Promise((resolve) => setImmediate(resolve));
      }
    case 'spin':
      for (;;);
    case 'pid':
  }
  return process.pid;
});

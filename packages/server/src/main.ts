import { isIP } from 'node:net';
import { UserError } from '@muted-pond/core/errors';
import { readToken } from './access/index.js';
import { createApp } from './create-app.js';
import { JobPool } from './jobs/index.js';
import { WARM_UP_WORKER } from './making/index.js';
import { dataFolders, readSettings } from './settings.js';
import { endOnSignals } from './signals.js';

// A promise that nobody looked after is a fault of ours, and no reason to end what others wait for.
process.on('unhandledRejection', (reason) => console.error('A promise was left alone:', reason));

try {
  const settings = readSettings(process.env);
  const app = await createApp(settings);
  let isClosing = false;
  endOnSignals(() => {
    isClosing = true;
    return app.close();
  });
  const { host } = settings;
  await app.listen(settings.port, host === '' ? '127.0.0.1' : isIP(host) ? host : '0.0.0.0');
  // Whoever asks for the first file finds a thread that is ready.
  app
    .get(JobPool)
    .run({}, { filename: WARM_UP_WORKER })
    .catch((error) => {
      // Whoever stops the server right after its start ends the thread as well.
      if (!isClosing) console.error(error);
    });
  const { port } = app.getHttpServer().address() as { port: number };
  if (host === '') console.log(`Muted Pond is at http://localhost:${port} (its data: ${settings.dataDir})`);
  else {
    const token = readToken(dataFolders(settings.dataDir).token);
    console.log(`Muted Pond is at http://localhost:${port}/?token=${token} and for others at`);
    console.log(`http://${host}:${port}/?token=${token} (its data: ${settings.dataDir})`);
  }
} catch (error) {
  console.error(sentenceOf(error as NodeJS.ErrnoException));
  process.exit(1);
}

function sentenceOf(error: NodeJS.ErrnoException): string {
  if (error instanceof UserError) return error.message;
  if (error.code === 'EADDRINUSE') {
    return 'Another program already answers at this address. End it, or choose another port: MUTED_POND_PORT=4180 npm start';
  }
  if (error.code === 'ENOSPC') return 'The disk is full. Free some space and start again.';
  if (error.code === 'EACCES' || error.code === 'EROFS') {
    return `The data folder cannot be written to (${error.path ?? error.message}). Choose another one: MUTED_POND_DATA=… npm start`;
  }
  return `Muted Pond could not start: ${error.stack ?? error.message}`;
}

import { isIP } from 'node:net';
import { readToken } from './access/index.js';
import { createApp } from './create-app.js';
import { warmReader } from './inspection/index.js';
import { JobPool } from './jobs/index.js';
import { warmLayerReader } from './layers/index.js';
import { dataFolders, readSettings } from './settings.js';
import { endOnSignals } from './signals.js';
import { startProblem } from './start-problem.js';
import { WARM_UP_WORKER } from './threads/index.js';

// An unhandled rejection is a bug, but it must not end the server for everybody else.
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
  // Whoever brings or asks for the first file finds a reader and a thread that are ready.
  warmReader();
  warmLayerReader();
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
  console.error(startProblem(error as NodeJS.ErrnoException, process.env.MUTED_POND_DATA));
  process.exit(1);
}

import { createApp } from './create-app.js';
import { readSettings } from './settings.js';

try {
  const settings = readSettings(process.env);
  const app = await createApp(settings);
  await app.listen(settings.port, '127.0.0.1');
  const { port } = app.getHttpServer().address() as { port: number };
  console.log(`Muted Pond is at http://localhost:${port} (its data: ${settings.dataDir})`);
} catch (error) {
  console.error(sentenceOf(error as NodeJS.ErrnoException));
  process.exit(1);
}

function sentenceOf(error: NodeJS.ErrnoException): string {
  if (error.code === 'EADDRINUSE') {
    return 'Another program already answers at this address. End it, or choose another port: MUTED_POND_PORT=4180 npm start';
  }
  return `Muted Pond could not start: ${error.stack ?? error.message}`;
}

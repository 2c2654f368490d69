import { createApp } from './create-app.js';
import { readSettings } from './settings.js';

const settings = readSettings(process.env);
const app = await createApp(settings);
await app.listen(settings.port, '127.0.0.1');
const { port } = app.getHttpServer().address() as { port: number };
console.log(`Muted Pond is at http://localhost:${port} (its data: ${settings.dataDir})`);

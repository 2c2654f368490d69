import { render } from './render.js';

process.exitCode = await render(process.argv.slice(2));

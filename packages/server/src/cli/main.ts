import { basename } from 'node:path';
import { probeFile } from '../media/index.js';

const args = process.argv.slice(2);

// Reading the file's headers takes about as long as loading the engine, so both are done at once.
const source = args[args.indexOf('--source') + 1];
const probing = args.includes('--source') && source ? probeFile(source, basename(source)) : null;
// Whether it went wrong is asked later, after the flags were looked at.
probing?.catch(() => {});

const { render } = await import('./render.js');
process.exitCode = await render(args, probing);

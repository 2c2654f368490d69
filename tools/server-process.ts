import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** The built application on a free port with its own temporary data, for the journey and the bench. */
export interface ServerProcess {
  readonly url: string;
  readonly dataDir: string;
  readonly pid: number;
  /** Ends it and removes its data. */
  stop(): Promise<void>;
  /** Ends it as a power cut does; its data stay. */
  kill(): Promise<void>;
}

/** @param options `dataDir`: data that were there before, and stay. */
export async function startServer(options: { demo: boolean; dataDir?: string }): Promise<ServerProcess> {
  const dataDir = options.dataDir ?? mkdtempSync(join(tmpdir(), 'muted-pond-data-'));
  const child = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      MUTED_POND_PORT: '0',
      MUTED_POND_PRACTICE_PORT: '0',
      MUTED_POND_DATA: dataDir,
      MUTED_POND_WEB: join(ROOT, 'packages/web/dist'),
      MUTED_POND_DEMO: options.demo ? join(ROOT, 'demo') : '',
    },
  });
  const stop = async () => {
    await end(child);
    if (!options.dataDir) rmSync(dataDir, { recursive: true, force: true });
  };
  const kill = async () => {
    await end(child, 'SIGKILL');
  };
  for await (const line of createInterface({ input: child.stdout })) {
    const url = /http:\/\/localhost:\d+/.exec(line)?.[0];
    if (url) {
      child.stdout.resume();
      return { url, dataDir, pid: child.pid ?? 0, stop, kill };
    }
  }
  await stop();
  throw new Error('The server ended before it listened.');
}

async function end(child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const ended = once(child, 'exit');
  child.kill(signal);
  await ended;
}

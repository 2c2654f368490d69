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

/**
 * Starts it as `npm start` does, for a person whose home is a new folder: its data lie where they do by default.
 * @param options `home`: a home that was there before, and stays; `port`: any that is free by default.
 */
export async function startServer(options: {
  demo: boolean;
  home?: string;
  port?: string;
}): Promise<ServerProcess> {
  const home = options.home ?? mkdtempSync(join(tmpdir(), 'muted-pond-home-'));
  const dataDir = join(home, '.muted-pond');
  const { MUTED_POND_DATA: _, ...inherited } = process.env;
  const child = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...inherited,
      HOME: home,
      MUTED_POND_PORT: options.port ?? '0',
      MUTED_POND_PRACTICE_PORT: '0',
      MUTED_POND_WEB: join(ROOT, 'packages/web/dist'),
      MUTED_POND_DEMO: options.demo ? join(ROOT, 'demo') : '',
    },
  });
  const stop = async () => {
    await end(child);
    if (!options.home) rmSync(home, { recursive: true, force: true });
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

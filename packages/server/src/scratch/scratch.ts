import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { currentJob } from '../job-context/index.js';

/** Folders that last as long as one file is being made. Their names tell which process they belong to. */
const PREFIX = 'muted-pond-making-';
/** Nothing takes so long to make: an older folder was left behind, whoever has its process's number now, ms. */
const OLDEST_MS = 86_400_000;

/** A new name for a folder of this process. Whoever asks for it removes what it then holds. */
export function scratchPath(): string {
  return join(tmpdir(), `${PREFIX}${process.pid}-${randomUUID()}`);
}

let swept: Promise<void> | null = null;

/** A folder of one's own, below that of the job where one is run. Whoever opens it removes it. */
export async function openScratch(): Promise<{ readonly path: string; remove(): Promise<void> }> {
  const job = currentJob();
  // The server sweeps at its start; whatever runs without one does it here.
  if (!job) {
    swept ??= sweepScratch();
    await swept;
  }
  const path = job ? join(job.scratch, randomUUID()) : scratchPath();
  await mkdir(path, { mode: 0o700, recursive: true });
  return { path, remove: () => removeScratch(path) };
}

/** A child process that is being ended may still write into it. */
export async function removeScratch(path: string): Promise<void> {
  await rm(path, { recursive: true, force: true, maxRetries: 10, retryDelay: 50 });
}

/** Removes what processes left behind that are no more, and what is too old to be in use. */
export async function sweepScratch(folder = tmpdir()): Promise<void> {
  const names = await readdir(folder).catch(() => []);
  for (const name of names) {
    const owner = new RegExp(`^${PREFIX}(\\d+)-`).exec(name);
    if (!owner) continue;
    const path = join(folder, name);
    const isOld = await stat(path).then(
      ({ mtimeMs }) => mtimeMs < Date.now() - OLDEST_MS,
      () => false,
    );
    if (isOld || !isRunning(Number(owner[1]))) await removeScratch(path).catch(() => {});
  }
}

function isRunning(process_: number): boolean {
  try {
    process.kill(process_, 0);
    return true;
  } catch (error) {
    // Another user's process is one that runs.
    return (error as NodeJS.ErrnoException).code !== 'ESRCH';
  }
}

import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Folders that last as long as one file is being made. Their names tell which process they belong to. */
const PREFIX = 'muted-pond-making-';

let swept: Promise<void> | null = null;

/** A folder of one's own below the system's temporary one. Whoever opens it removes it. */
export async function openScratch(): Promise<{ readonly path: string; remove(): Promise<void> }> {
  swept ??= sweepScratch();
  await swept;
  const path = join(tmpdir(), `${PREFIX}${process.pid}-${randomUUID()}`);
  await mkdir(path, { mode: 0o700 });
  return { path, remove: () => rm(path, { recursive: true, force: true }) };
}

/** Removes what processes left behind that are no more. */
export async function sweepScratch(folder = tmpdir()): Promise<void> {
  const names = await readdir(folder).catch(() => []);
  for (const name of names) {
    const owner = new RegExp(`^${PREFIX}(\\d+)-`).exec(name);
    if (owner && !isRunning(Number(owner[1]))) {
      await rm(join(folder, name), { recursive: true, force: true }).catch(() => {});
    }
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

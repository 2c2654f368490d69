import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import {
  access,
  type FileHandle,
  mkdir,
  open,
  readdir,
  readFile,
  rename,
  rm,
  writeFile,
} from 'node:fs/promises';
import { join, sep } from 'node:path';
import { isDiskFull } from '../disk-full.js';

/** Ends the names of files that are being written. */
const HALF = '.half';

/** Small files that can be made again at any time, by footage, kind and number. */
export class PictureCache {
  constructor(readonly cacheDir: string) {}

  async get(footage: string, kind: string, index: number): Promise<Buffer | null> {
    try {
      return await readFile(join(this.cacheDir, footage, kind, String(index)));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw error;
    }
  }

  /** Some bytes of one, without reading the rest; null where it is not there. */
  async getPart(
    footage: string,
    kind: string,
    index: number,
    from: number,
    to: number,
  ): Promise<Buffer | null> {
    let file: FileHandle;
    try {
      file = await open(join(this.cacheDir, footage, kind, String(index)));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw error;
    }
    try {
      const { size } = await file.stat();
      const part = Buffer.alloc(Math.max(0, Math.min(to, size) - from));
      await file.read(part, 0, part.length, from);
      return part;
    } finally {
      await file.close();
    }
  }

  has(footage: string, kind: string, index: number): Promise<boolean> {
    return access(join(this.cacheDir, footage, kind, String(index))).then(
      () => true,
      () => false,
    );
  }

  /** As `has`, for where nobody can wait. */
  hasNow(footage: string, kind: string, index: number): boolean {
    return existsSync(join(this.cacheDir, footage, kind, String(index)));
  }

  /** Written whole or not at all; where the disk is full, not at all. */
  async put(footage: string, kind: string, index: number, bytes: Uint8Array): Promise<void> {
    const folder = join(this.cacheDir, footage, kind);
    // Every time: the whole cache may be thrown away while the server runs.
    const half = join(folder, `${randomUUID()}${HALF}`);
    try {
      await mkdir(folder, { recursive: true });
      await writeFile(half, bytes);
      await rename(half, join(folder, String(index)));
    } catch (error) {
      await rm(half, { force: true });
      // What could not be kept is made again; whoever waits for it gets it all the same.
      if (!isDiskFull(error)) throw error;
    }
  }

  /**
   * Removes what writers left half written that are no more, and kinds that are not made any more: nothing may be
   * writing when it begins.
   */
  async sweep(isOutdated: (kind: string) => boolean): Promise<void> {
    const names = await readdir(this.cacheDir, { recursive: true }).catch(() => []);
    for (const name of names) {
      const [, kind, file] = name.split(sep);
      const isGone = file === undefined ? kind !== undefined && isOutdated(kind) : file.endsWith(HALF);
      if (isGone) await rm(join(this.cacheDir, name), { recursive: true, force: true });
    }
  }

  /** Lets go of all of one kind; of all kinds where none is named. */
  async drop(footage: string, kind = ''): Promise<void> {
    await rm(join(this.cacheDir, footage, kind), { recursive: true, force: true });
  }
}

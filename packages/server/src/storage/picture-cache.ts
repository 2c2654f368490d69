import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** Small files that can be made again at any time, by footage, kind and number. */
export class PictureCache {
  constructor(private readonly cacheDir: string) {}

  async get(footage: string, kind: string, index: number): Promise<Buffer | null> {
    try {
      return await readFile(join(this.cacheDir, footage, kind, String(index)));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw error;
    }
  }

  /** Written whole or not at all. */
  async put(footage: string, kind: string, index: number, bytes: Uint8Array): Promise<void> {
    const folder = join(this.cacheDir, footage, kind);
    // Every time: the whole cache may be thrown away while the server runs.
    await mkdir(folder, { recursive: true });
    const half = join(folder, `${randomUUID()}.half`);
    await writeFile(half, bytes);
    await rename(half, join(folder, String(index)));
  }
}

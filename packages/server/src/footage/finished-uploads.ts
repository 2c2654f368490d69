import { mkdir, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** Ids are given by the upload server: letters, digits and dashes. */
const ID = /^[\w-]{1,64}$/;

/** Notes on uploads that became footage, one small file each, kept as long as an upload may be taken up again. */
export class FinishedUploads {
  constructor(
    private readonly folder: string,
    private readonly keptMs: number,
  ) {}

  async note(id: string, footage: string): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    await writeFile(join(this.folder, id), footage);
  }

  /** Of all that are not expired. */
  async ids(): Promise<string[]> {
    return readdir(this.folder).catch(() => []);
  }

  async forget(id: string): Promise<void> {
    await rm(join(this.folder, id), { force: true });
  }

  /** The footage that an upload became; null where it did not, or too long ago. */
  async footageOf(id: string): Promise<string | null> {
    if (!ID.test(id)) return null;
    return readFile(join(this.folder, id), 'utf8').catch(() => null);
  }

  async dropExpired(): Promise<void> {
    for (const name of await this.ids()) {
      const path = join(this.folder, name);
      const { mtimeMs } = await stat(path);
      if (mtimeMs < Date.now() - this.keptMs) await rm(path, { force: true });
    }
  }
}

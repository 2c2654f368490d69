import { createHash } from 'node:crypto';
import { realpath, stat } from 'node:fs/promises';

/**
 * Stands for the hash of a file's bytes where reading all of it would take too long: another file, or the
 * same one written again, has another.
 * @throws where there is no such file.
 */
export async function fileIdentity(path: string): Promise<string> {
  const { size, mtimeMs } = await stat(path);
  return createHash('sha256')
    .update(`${await realpath(path)} ${size} ${mtimeMs}`)
    .digest('hex');
}

import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, type ReadStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Problem } from '../problems/index.js';

/** An incoming file: complete and hashed, but without an owner yet. Ends by `keep` or `discard`. */
export interface IncomingFile {
  readonly hash: string;
  readonly bytes: number;
  readonly path: string;
  /** Moves it into the store; the same content is kept once. */
  keep(): Promise<void>;
  discard(): Promise<void>;
}

/** Immutable files named by the SHA-256 of their bytes. */
export class BlobStore {
  /** Blobs that were read in full and found whole, and the state of the file then. */
  private readonly whole = new Map<string, string>();

  constructor(
    private readonly blobsDir: string,
    private readonly incomingDir: string,
    private readonly binDir: string,
  ) {}

  /** Makes the folders and throws away what a crash left half received. */
  async open(): Promise<void> {
    await rm(this.incomingDir, { recursive: true, force: true });
    await mkdir(this.incomingDir, { recursive: true });
    await mkdir(this.blobsDir, { recursive: true });
    await mkdir(this.binDir, { recursive: true });
  }

  pathOf(hash: string): string {
    return join(this.blobsDir, hash.slice(0, 2), hash);
  }

  read(hash: string): ReadStream {
    return createReadStream(this.pathOf(hash));
  }

  async has(hash: string): Promise<boolean> {
    return stat(this.pathOf(hash)).then(
      () => true,
      () => false,
    );
  }

  /**
   * Whether the bytes are those that the blob is named by; looked at once, and again when the file has
   * changed.
   * @throws Problem `file_damaged` when they are not.
   */
  async assertWhole(hash: string, name: string): Promise<void> {
    const { mtimeMs, size } = await stat(this.pathOf(hash));
    const state = `${mtimeMs} ${size}`;
    if (this.whole.get(hash) === state) return;
    if ((await hashOf(this.read(hash))) !== hash) {
      throw new Problem(
        410,
        'file_damaged',
        `“${name}” is damaged on the disk. Make it anew, or put a backup in its place (npm run restore).`,
      );
    }
    this.whole.set(hash, state);
  }

  /** Bytes that are there of a blob; null where it is not. */
  async size(hash: string): Promise<number | null> {
    return stat(this.pathOf(hash)).then(
      ({ size }) => size,
      () => null,
    );
  }

  /**
   * Streams to disk while hashing. Whatever goes wrong, nothing is left behind.
   * @throws Problem `too_large` past `mostBytes`; the stream's own error when it breaks off.
   */
  async receive(stream: NodeJS.ReadableStream, name: string, mostBytes: number): Promise<IncomingFile> {
    const path = join(this.incomingDir, randomUUID());
    const hash = createHash('sha256');
    let bytes = 0;
    const count = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        bytes += chunk.length;
        if (bytes > mostBytes) {
          done(
            new Problem(
              413,
              'too_large',
              `“${name}” is larger than the ${Math.floor(mostBytes / 1024 ** 2)} MiB that can be taken. Trim it first.`,
            ),
          );
          return;
        }
        hash.update(chunk);
        done(null, chunk);
      },
    });
    const discard = () => rm(path, { force: true });
    try {
      await pipeline(stream, count, createWriteStream(path, { flags: 'wx' }));
    } catch (error) {
      await discard();
      throw error;
    }
    const digest = hash.digest('hex');
    return {
      hash: digest,
      bytes,
      path,
      keep: () => this.adopt(path, digest),
      discard,
    };
  }

  /** A file that lies complete somewhere on the same disk, hashed: as if it had just been received. */
  async takeIn(path: string): Promise<IncomingFile> {
    const digest = await hashOf(createReadStream(path));
    return {
      hash: digest,
      bytes: (await stat(path)).size,
      path,
      keep: () => this.adopt(path, digest),
      discard: () => rm(path, { force: true }),
    };
  }

  /** Keeps bytes that were made here. @returns their hash. */
  async put(bytes: Uint8Array): Promise<string> {
    const incoming = await this.receive(singleChunk(bytes), 'file', Number.POSITIVE_INFINITY);
    await incoming.keep();
    return incoming.hash;
  }

  /**
   * Puts every blob that nobody names into the bin.
   * @param before only those that were last written before this time, ms.
   * @returns how many went.
   */
  async sweep(isWanted: (hash: string) => boolean, before: number): Promise<number> {
    let gone = 0;
    for (const hash of await this.all()) {
      if (isWanted(hash)) continue;
      const path = this.pathOf(hash);
      if ((await stat(path)).mtimeMs >= before) continue;
      const thrown = join(this.binDir, hash);
      await rename(path, thrown);
      // From now on its time says when it was thrown away.
      const now = new Date();
      await utimes(thrown, now, now);
      gone++;
    }
    return gone;
  }

  /** Removes for good what was put into the bin before a time, ms. */
  async emptyBin(before: number): Promise<void> {
    for (const name of await readdir(this.binDir)) {
      const path = join(this.binDir, name);
      if ((await stat(path)).mtimeMs < before) await rm(path, { force: true });
    }
  }

  async count(): Promise<number> {
    return (await this.all()).length;
  }

  /** The hashes of all blobs. */
  all(): Promise<string[]> {
    return blobsIn(this.blobsDir);
  }

  /** Whatever is told to be kept is on the disk itself, also when the power goes right after. */
  private async adopt(path: string, hash: string): Promise<void> {
    const target = this.pathOf(hash);
    const folder = dirname(target);
    const made = await mkdir(folder, { recursive: true });
    await flush(path);
    await rename(path, target);
    await flush(folder);
    if (made !== undefined) await flush(dirname(folder));
    await rm(join(this.binDir, hash), { force: true });
  }
}

/** The hashes of the blobs in a folder. Whatever else lies there is none of ours, and is left alone. */
export async function blobsIn(blobsDir: string): Promise<string[]> {
  const folders = await readdir(blobsDir, { withFileTypes: true });
  const names = folders
    .filter((entry) => entry.isDirectory() && /^[0-9a-f]{2}$/.test(entry.name))
    .map(async ({ name }) =>
      (await readdir(join(blobsDir, name))).filter((hash) => BLOB_NAME.test(hash) && hash.startsWith(name)),
    );
  return (await Promise.all(names)).flat();
}

const BLOB_NAME = /^[0-9a-f]{64}$/;

/** Has the system write a file or the names in a folder to the disk. */
async function flush(path: string): Promise<void> {
  const file = await open(path);
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}

/** SHA-256 of a stream. */
export async function hashOf(stream: NodeJS.ReadableStream): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(stream, hash);
  return hash.digest('hex');
}

function singleChunk(bytes: Uint8Array): NodeJS.ReadableStream {
  return Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)]);
}

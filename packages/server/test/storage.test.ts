import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { homedir, tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { BlobStore } from '../src/blobs/index.js';
import { PictureCache } from '../src/cache/index.js';
import { TaskQueue } from '../src/jobs/index.js';
import { readSettings } from '../src/settings.js';

let folder: string;
let store: BlobStore;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'muted-pond-storage-'));
  store = new BlobStore(join(folder, 'blobs'), join(folder, 'incoming'), join(folder, 'bin'));
  await store.open();
});

afterEach(() => rmSync(folder, { recursive: true, force: true }));

const stream = (...parts: string[]) => Readable.from(parts.map((part) => Buffer.from(part)));
const incoming = () => readdir(join(folder, 'incoming'));

describe('the blob store', () => {
  it('names what it keeps by the SHA-256 of its bytes', async () => {
    const file = await store.receive(stream('tea ', 'house'), 'tea.txt', 100);
    expect(file.hash).toBe(createHash('sha256').update('tea house').digest('hex'));
    expect(file.bytes).toBe(9);
    expect(await store.has(file.hash)).toBe(false);
    await file.keep();
    expect(await store.has(file.hash)).toBe(true);
    expect(await readFile(store.pathOf(file.hash), 'utf8')).toBe('tea house');
    expect(await incoming()).toEqual([]);
  });

  it('keeps the same content once', async () => {
    const first = await store.put(Buffer.from('koi'));
    const second = await store.put(Buffer.from('koi'));
    expect(second).toBe(first);
    expect(await readdir(join(folder, 'blobs'))).toHaveLength(1);
  });

  it('lists its own files only, whatever else lies among them', async () => {
    const hash = await store.put(Buffer.from('koi'));
    const blobs = join(folder, 'blobs');
    await writeFile(join(blobs, '.DS_Store'), 'left by a file manager');
    await writeFile(join(blobs, hash.slice(0, 2), 'Thumbs.db'), 'left by another');
    await mkdir(join(blobs, 'a folder of somebody'));
    await writeFile(join(blobs, 'a folder of somebody', 'f'.repeat(64)), 'not ours');
    expect(await store.all()).toEqual([hash]);
    expect(await store.sweep(() => false, Date.now() + 1000)).toBe(1);
    expect((await readdir(blobs)).sort()).toEqual(['.DS_Store', 'a folder of somebody', hash.slice(0, 2)]);
  });

  it('has bytes and names written to the disk itself before it says that they are kept', async () => {
    const handle = await open(folder);
    const sync = vi.spyOn(Object.getPrototypeOf(handle), 'sync');
    await handle.close();
    try {
      const file = await store.receive(stream('kettle'), 'kettle', 100);
      expect(sync).not.toHaveBeenCalled();
      await file.keep();
      // The file; its new folder; and the folder of that.
      expect(sync).toHaveBeenCalledTimes(3);
    } finally {
      sync.mockRestore();
    }
  });

  it('leaves nothing of what is discarded, too large, or broken off', async () => {
    const file = await store.receive(stream('kettle'), 'kettle', 100);
    await file.discard();
    await expect(store.receive(stream('12345', '67890'), 'long.mp4', 7)).rejects.toThrow(
      '“long.mp4” is larger',
    );
    const broken = Readable.from(
      (function* () {
        yield Buffer.from('half');
        throw new Error('The line is gone.');
      })(),
    );
    await expect(store.receive(broken, 'half.mp4', 100)).rejects.toThrow('The line is gone.');
    expect(await incoming()).toEqual([]);
    expect(await readdir(join(folder, 'blobs'))).toEqual([]);
  });

  it('throws away at its start what a crash left half received', async () => {
    await writeFile(join(folder, 'incoming', 'left-over'), 'half');
    await store.open();
    expect(await incoming()).toEqual([]);
  });

  it('puts what nobody names into the bin, but nothing young, and empties the bin later', async () => {
    const kept = await store.put(Buffer.from('kept'));
    const lost = await store.put(Buffer.from('lost'));
    const isKept = (hash: string) => hash === kept;
    expect(await store.sweep(isKept, Date.now() - 60_000)).toBe(0);
    expect(await store.has(lost)).toBe(true);
    expect(await store.sweep(isKept, Date.now() + 1000)).toBe(1);
    expect([await store.has(kept), await store.has(lost), await store.count()]).toEqual([true, false, 1]);
    expect(await readdir(join(folder, 'bin'))).toEqual([lost]);
    await store.emptyBin(Date.now() - 60_000);
    expect(await readdir(join(folder, 'bin'))).toEqual([lost]);
    await store.emptyBin(Date.now() + 1000);
    expect(await readdir(join(folder, 'bin'))).toEqual([]);
  });

  it('takes back what lies in the bin when the same content comes again', async () => {
    const hash = await store.put(Buffer.from('again'));
    await store.sweep(() => false, Date.now() + 1000);
    await store.put(Buffer.from('again'));
    expect([await store.has(hash), await readdir(join(folder, 'bin'))]).toEqual([true, []]);
  });
});

describe('the picture cache', () => {
  it('gives back what was put, and may be thrown away at any time', async () => {
    const cache = new PictureCache(join(folder, 'cache'));
    expect(await cache.get('f', 'frames', 3)).toBeNull();
    await cache.put('f', 'frames', 3, Buffer.from('picture'));
    expect(String(await cache.get('f', 'frames', 3))).toBe('picture');
    await rm(join(folder, 'cache'), { recursive: true });
    expect(await cache.get('f', 'frames', 3)).toBeNull();
    await cache.put('f', 'frames', 4, Buffer.from('again'));
    expect(await readdir(join(folder, 'cache', 'f', 'frames'))).toEqual(['4']);
  });

  it('tells of a disk that cannot be read', async () => {
    await mkdir(join(folder, 'cache', 'f', 'frames', '1'), { recursive: true });
    await expect(new PictureCache(join(folder, 'cache')).get('f', 'frames', 1)).rejects.toThrow('EISDIR');
  });
});

describe('turns', () => {
  it('run a few at once, the newest wish first, the background last', async () => {
    const turns = new TaskQueue(1);
    const order: string[] = [];
    let release = () => {};
    const first = turns.run(() => new Promise<void>((resolve) => (release = resolve)));
    const others = [
      turns.run(async () => void order.push('behind'), 'background'),
      turns.run(async () => void order.push('older')),
      turns.run(async () => void order.push('newer')),
    ];
    expect(order).toEqual([]);
    release();
    await Promise.all([first, ...others]);
    expect(order).toEqual(['newer', 'older', 'behind']);
  });

  it('go on after one that fails', async () => {
    const turns = new TaskQueue(1);
    await expect(turns.run(() => Promise.reject(new Error('no')))).rejects.toThrow('no');
    expect(await turns.run(async () => 'yes')).toBe('yes');
  });

  it('never run more than they may (seeded crowd)', async () => {
    const turns = new TaskQueue(3);
    let running = 0;
    let most = 0;
    await Promise.all(
      Array.from({ length: 40 }, (_, i) =>
        turns.run(
          async () => {
            most = Math.max(most, ++running);
            for (let k = 0; k < i % 5; k++) await Promise.resolve();
            running--;
          },
          i % 3 === 0 ? 'background' : 'hand',
        ),
      ),
    );
    expect(most).toBe(3);
    expect(running).toBe(0);
  });
});

describe('settings', () => {
  it('have defaults, take the environment, and name what is wrong', () => {
    expect(readSettings({})).toMatchObject({
      port: 4173,
      dataDir: join(homedir(), '.muted-pond'),
      demoDir: '',
    });
    expect(readSettings({ MUTED_POND_PORT: '80', MUTED_POND_DATA: '/pond' })).toMatchObject({
      port: 80,
      dataDir: '/pond',
    });
    expect(() => readSettings({ MUTED_POND_PORT: 'north', MUTED_POND_MOST_UPLOAD: '0' })).toThrow(
      /MUTED_POND_PORT.*MUTED_POND_MOST_UPLOAD/,
    );
  });
});

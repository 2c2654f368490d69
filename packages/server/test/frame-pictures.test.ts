import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BlobStore } from '../src/blobs/index.js';
import { PictureCache } from '../src/cache/index.js';
import type { Footage } from '../src/footage/footage.entity.js';
import { FramePictures } from '../src/footage/frame-pictures.js';
import { TaskQueue } from '../src/jobs/index.js';
import { probeHere } from '../src/media/index.js';
import { type ClipFolder, clipFolder, numberedFrames } from './clips.js';
import { gate } from './gate.js';

const RUN = 6;
type Folders = ConstructorParameters<typeof BlobStore>;
let clips: ClipFolder;
let footage: Footage;
let blobs: BlobStore;
let folder: string;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'muted-pond-frames-'));
  clips = clipFolder();
  const path = clips.make('clip.mp4', ...numberedFrames(24, 12), '-c:v', 'libx264', '-g', '6');
  const facts = await probeHere(path, 'clip.mp4');
  blobs = new BlobStore(...(['blobs', 'incoming', 'bin'].map((name) => join(folder, name)) as Folders));
  await blobs.open();
  const hash = await blobs.put(await readFile(path));
  footage = { hash, name: 'clip.mp4', bytes: 1, facts, addedAt: '', deletedAt: null };
});
afterAll(() => {
  clips.remove();
  rmSync(folder, { recursive: true, force: true });
});

/** A cache on a slow disk: reading of one frame and writing of another take until they are let through. */
class SlowCache extends PictureCache {
  readonly reading = gate();
  readonly writing = gate();
  readonly asked = gate();
  readonly written = gate();
  private held = true;

  constructor(
    name: string,
    private readonly slowToRead: number,
    private readonly slowToWrite: number,
  ) {
    super(join(folder, name));
  }

  override async get(hash: string, kind: string, index: number) {
    const found = await super.get(hash, kind, index);
    if (index === this.slowToRead && this.held) {
      this.held = false;
      this.asked.open();
      await this.reading.opened;
    }
    return found;
  }

  override async put(hash: string, kind: string, index: number, bytes: Uint8Array) {
    if (index === this.slowToWrite) {
      this.written.open();
      await this.writing.opened;
    }
    await super.put(hash, kind, index, bytes);
  }
}

function pictures(cache: PictureCache, recentBytes: number, closing = new AbortController().signal) {
  const kind = {
    folder: 'frames',
    sizeOf: () => footage.facts,
    runsOf: (_: Footage, frames: readonly number[]) =>
      [...new Set(frames.map((frame) => Math.floor(frame / RUN)))].map((run) =>
        Array.from({ length: RUN }, (_, i) => run * RUN + i),
      ),
    gatherMs: 0,
    background: false,
    recentBytes,
  };
  return new FramePictures(kind, blobs, cache, new TaskQueue(2), closing);
}

describe('a frame that is asked for while its run is ending', () => {
  it.each([
    ['comes from memory', 1e8],
    ['comes from a second run, where memory is short', 0],
  ])('%s', async (name, recentBytes) => {
    const cache = new SlowCache(name, 3, RUN - 1);
    const made = pictures(cache, recentBytes);
    const late = made.frame(footage, 3);
    await cache.asked.opened;
    // Its whole run is decoded meanwhile, but for the last word of it.
    await made.frame(footage, 0);
    await cache.written.opened;
    cache.reading.open();
    // The request now waits, and the run ends.
    await new Promise((resolve) => setImmediate(resolve));
    cache.writing.open();
    expect((await late).length).toBeGreaterThan(100);
    expect((await made.frame(footage, 4)).length).toBeGreaterThan(100);
  });
});

describe('a frame that cannot be made', () => {
  it('is told as such, not as the end of the server', async () => {
    const made = pictures(new PictureCache(join(folder, 'none')), 1e8);
    await expect(made.frame(footage, 25)).rejects.toMatchObject({
      name: 'UserError',
      message: expect.stringContaining('“clip.mp4” gives no picture for frame'),
    });
  });

  it('while the server is being stopped says that', async () => {
    const closing = new AbortController();
    closing.abort();
    const made = pictures(new PictureCache(join(folder, 'stopped')), 1e8, closing.signal);
    await expect(made.frame(footage, 1)).rejects.toMatchObject({ status: 503, code: 'closing' });
  });
});

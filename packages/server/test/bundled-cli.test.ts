import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bundleCommandLine } from '../../../tools/bundle-cli.mjs';
import { readWithFfmpeg } from '../../core/src/testing/independent-readers.js';
import { render } from '../src/cli/render.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let dist: string;
let video: string;

beforeAll(async () => {
  clips = clipFolder();
  const lavfi = ['-f', 'lavfi', '-i', 'testsrc2=s=160x120:r=12:d=1.5'];
  video = clips.make('whole.mkv', ...lavfi, '-c:v', 'ffv1', '-pix_fmt', 'bgr0');
  // Beside the built one: what it finds by its place must be as far away.
  dist = mkdtempSync(join(fileURLToPath(new URL('..', import.meta.url)), 'dist-'));
  await bundleCommandLine(dist);
});

afterAll(() => {
  clips.remove();
  rmSync(dist, { recursive: true, force: true });
});

/** Runs the bundled command line as a process of its own. */
function run(...args: string[]) {
  const { status, stderr } = spawnSync(process.execPath, [join(dist, 'cli/main.js'), ...args], {
    encoding: 'utf8',
  });
  return { status, stderr };
}

const out = (name: string) => join(clips.path, name);

describe('the bundled command line', () => {
  it('makes of a whole video, read ahead, what its sources make of it without, to the byte', async () => {
    const args = ['--source', video, '--width', '160', '--fps', '12', '--dither', 'none'];
    expect(run(...args, '--out', out('bundled.gif'))).toEqual({ status: 0, stderr: '' });
    expect(await render([...args, '--out', out('plain.gif')])).toBe(0);
    const bytes = readFileSync(out('bundled.gif'));
    expect(bytes.equals(readFileSync(out('plain.gif')))).toBe(true);
    expect(readWithFfmpeg(new Uint8Array(bytes), 160, 120).delaysCs.length).toBeGreaterThan(12);
  });

  it('loads little before the decoder is started: no kernel, no part of the engine', () => {
    const main = readFileSync(join(dist, 'cli/main.js'), 'utf8');
    const chunks = [...main.matchAll(/^(?:import|\} from) "(\.[^"]+)";/gm)].map(([, path]) => path);
    expect(chunks.length).toBeGreaterThan(0);
    const bytes = chunks.map((path) => readFileSync(join(dist, 'cli', path)).length);
    expect(bytes.reduce((sum, one) => sum + one, main.length)).toBeLessThan(40_000);
  });

  it('runs the code that was kept of it; where that is damaged or gone, it makes the same', () => {
    const args = ['--source', video, '--width', '80', '--fps', '12', '--dither', 'none'];
    const code = join(dist, 'bundle/engine.cjs.code');
    const kept = readFileSync(code);
    // Says of the engine's code whether it was of use.
    const tells = join(clips.path, 'tells.mjs');
    writeFileSync(
      tells,
      'globalThis.whenEngineRuns = (script) => process.stderr.write(String(script.cachedDataRejected));',
    );
    const make = (name: string) => {
      const ran = run(...args, '--out', out(name));
      const told = spawnSync(process.execPath, ['--import', tells, join(dist, 'cli/main.js')], {
        encoding: 'utf8',
      });
      const [said] = /^(true|false|undefined)/.exec(told.stderr) ?? [];
      return { ...ran, said, bytes: readFileSync(out(name)) };
    };
    try {
      const usual = make('kept.gif');
      expect([usual.status, usual.said]).toEqual([0, 'false']);
      writeFileSync(code, kept.subarray(0, kept.length >> 1));
      const damaged = make('damaged.gif');
      expect([damaged.status, damaged.stderr, damaged.said]).toEqual([0, '', 'true']);
      rmSync(code);
      const gone = make('gone.gif');
      expect([gone.status, gone.stderr, gone.said]).toEqual([0, '', 'undefined']);
      expect(damaged.bytes.equals(usual.bytes) && gone.bytes.equals(usual.bytes)).toBe(true);
    } finally {
      writeFileSync(code, kept);
    }
  });

  it('makes files of a part, of an old loop in its thread, and of pictures by the picture library', () => {
    const part = ['--source', video, '--from', '0.5', '--to', '1', '--width', '80', '--fps', '12'];
    expect(run(...part, '--out', out('part.gif'), '--out', out('part.webp')).stderr).toBe('');
    expect(run('--source', out('part.gif'), '--out', out('again.gif')).stderr).toBe('');
    expect(readWithFfmpeg(new Uint8Array(readFileSync(out('again.gif'))), 80, 60).delaysCs).toHaveLength(6);
    const picture = clips.make('one.png', '-f', 'lavfi', '-i', 'testsrc2=s=64x48', '-frames:v', '1');
    expect(run('--source', picture, '--source', picture, '--out', out('stills.gif')).stderr).toBe('');
  });

  it('writes a caption with the fonts that ship', () => {
    const args = ['--source', video, '--width', '160', '--fps', '6', '--caption', 'Osier Lane'];
    expect(run(...args, '--out', out('caption.gif'))).toEqual({ status: 0, stderr: '' });
    expect(run('--source', video, '--width', '160', '--fps', '6', '--out', out('bare.gif')).status).toBe(0);
    expect(readFileSync(out('caption.gif')).equals(readFileSync(out('bare.gif')))).toBe(false);
  });

  it('says what is wrong in one line and ends, though something was begun', () => {
    writeFileSync(out('none.mp4'), 'nothing that is a video');
    const { status, stderr } = run('--source', out('none.mp4'), '--out', out('none.gif'));
    expect(status).toBe(1);
    expect(stderr).toMatch(/neither a video nor a picture/);
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(run('--source', out('gone.mp4'), '--out', out('gone.gif')).stderr).toMatch(/does not exist/);
    expect(run('--source', video, '--width', '-4', '--out', out('x.gif')).status).toBe(1);
  });
});

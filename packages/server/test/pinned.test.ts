import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { render } from '../src/cli/render.js';
import { type ClipFolder, clipFolder } from './clips.js';

/** Files of the demo pieces keep their bytes while the way they are made is laid anew. */

const demo = (name: string) => fileURLToPath(new URL(`../../../demo/footage/${name}`, import.meta.url));

const PIECES: Record<string, { readonly flags: readonly string[]; readonly sha256: string }> = {
  'a crossfade with a crop': {
    flags:
      `--source ${demo('kettle.mov')} --from 1 --to 2.5 --crop 200,100,700,500 --width 240 --fps 10 --join crossfade:4`.split(
        ' ',
      ),
    sha256: 'ba130e7f8e24d479060ade43b1c11a2d3b246f3611dc81ef9aaea90a7da96485',
  },
  'a cinemagraph, steadied and lit': {
    flags:
      `--source ${demo('lantern.mp4')} --from 0.5 --to 2 --width 320 --fps 12 --mask ${demo('lantern.moves.png')} --plate 20 --steady --even-light --dither none`.split(
        ' ',
      ),
    sha256: 'b162b9e23e95cb15d4ab8433d0ca238cc3b07cc1966f45338a29615648ae40c4',
  },
  'ripples found by themselves': {
    flags:
      `--source ${demo('kettle.mov')} --from 0.5 --to 2 --width 320 --fps 10 --plate auto --ripples auto`.split(
        ' ',
      ),
    sha256: '75572457b27d79734193dc18ae7150c3bba4ffb3365b7036af5a0752323b44c4',
  },
  'there and back, turned in a box': {
    flags:
      `--source ${demo('koi.webm')} --from 1 --to 2 --width 200 --fps 8 --join there-and-back --fit contain --height 200`.split(
        ' ',
      ),
    sha256: 'afc4f3dfd2b7907f62f84fb0c2dfd288ff3ff50c20c54fc8d0f526b1d6a21e4b',
  },
  'a page sped up': {
    flags:
      `--source ${demo('booking.mp4')} --from 0 --to 6 --width 320 --fps 8 --speed 2 --palette loop`.split(
        ' ',
      ),
    sha256: '3d5eb9fa5b794ad2146486870a1dff49343af25e73a03b5e627b6fa4b70e15b5',
  },
  'an animation that can be seen through': {
    flags: `--source ${demo('badge.png')} --width 120`.split(' '),
    sha256: 'e242d36f9a2b86278e910995a8701ec1e1fbd89da1bfe6b720360c54277b343d',
  },
  'stills of several shapes': {
    flags: ['--source', ...[1, 2, 3].map((n) => demo(`autumn menu ${n}.png`)), '--width', '240'],
    sha256: '0708d566ad03671f7ede93bb1134b5f87628c203a340664a2d9d35b8c00f4ef1',
  },
};

let clips: ClipFolder;
beforeAll(() => {
  clips = clipFolder();
});
afterAll(() => clips.remove());

describe('demo pieces keep their bytes', () => {
  it.each(Object.entries(PIECES))('%s', async (_, { flags, sha256 }) => {
    const out = join(clips.path, 'pinned.gif');
    expect(await render([...flags, '--out', out])).toBe(0);
    expect(createHash('sha256').update(readFileSync(out)).digest('hex')).toBe(sha256);
  });
});

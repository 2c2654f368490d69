import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { FollowView, LayerKind, LayerView, SavingsView } from '@muted-pond/core/api';
import { LOOK_IDS } from '@muted-pond/core/colour';
import { CAPTION_STARTS, newCaption, UNDRESSED, type Veil, veilAt } from '@muted-pond/core/dress';
import type { Recipe } from '@muted-pond/core/recipe';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { MAKERS } from '../src/making/kinds/index.js';
import { finishedTrial, makeOld, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

const [WIDTH, HEIGHT] = [320, 180];
const FRAMES = 60;
/** The middle of the marked disc at a frame, px; and its radius. */
const discAt = (n: number) => ({ x: 60 + n * 3, y: 90 + 30 * Math.sin(n / 8) });
const RADIUS = 18;

let app: TestApp;
let clips: ClipFolder;
let footage: string;
/** The same with a disc that has a face of its own. */
let followable: string;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  // A disc of magenta and green wanders over textured grey: finely striped, or in larger figures.
  const inside = `lt(hypot(X-60-3*N\\,Y-90-30*sin(N/8))\\,${RADIUS})`;
  const [u, v] = ['(X-60-3*N)', '(Y-90-30*sin(N/8))'];
  const ground = '110+35*sin(X/11+2*cos(Y/17))+30*cos(Y/9+X/37)';
  const draw = (name: string, figure: string) => {
    const channel = (isMagenta: boolean) =>
      `if(${inside}\\,255*${isMagenta ? 'gt' : 'lte'}(${figure}\\,0)\\,${ground})`;
    return clips.make(
      name,
      ...['-f', 'lavfi', '-i', `nullsrc=s=${WIDTH}x${HEIGHT}:r=20:d=${FRAMES / 20}`],
      ...['-vf', `format=gbrp,geq=r='${channel(true)}':g='${channel(false)}':b='${channel(true)}'`],
      ...['-c:v', 'ffv1', '-pix_fmt', 'bgr0'],
    );
  };
  footage = draw('marked.mkv', `sin(${u}/1.4)*cos(${v}/1.6)`);
  followable = draw('followable.mkv', `sin(${u}/4+2*cos(${v}/5))`);
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

async function put(
  bytes: Uint8Array | string,
  kind: LayerKind,
  name = 'file',
): Promise<{ status: number; body: LayerView & Problem }> {
  const response = await fetch(`${app.url}/api/layers?name=${encodeURIComponent(name)}&kind=${kind}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: typeof bytes === 'string' ? bytes : new Blob([new Uint8Array(bytes)]),
  });
  return { status: response.status, body: (await response.json()) as LayerView & Problem };
}

/** Pixels of strong colour: only the marker has any. */
function marks(rgba: Uint8Array): number {
  let count = 0;
  for (let i = 0; i < rgba.length; i += 4) {
    const spread = Math.max(rgba[i], rgba[i + 1], rgba[i + 2]) - Math.min(rgba[i], rgba[i + 1], rgba[i + 2]);
    if (rgba[i + 3] > 0 && spread > 80) count++;
  }
  return count;
}

const share = (x: number, y: number, side: number) => ({
  x: (x - side / 2) / WIDTH,
  y: (y - side / 2) / HEIGHT,
  width: side / WIDTH,
  height: side / HEIGHT,
});

/** A veil that lies over the disc in every frame. */
const overDisc: Veil = {
  ...{ id: 'v', name: 'v', shape: 'ellipse', mask: null, effect: 'plain', strength: 60, colour: '#808080' },
  ...{ feather: 10, span: null, shown: true },
  keys: Array.from({ length: FRAMES }, (_, n) => ({
    ...share(discAt(n).x, discAt(n).y, 2 * RADIUS + 6),
    ...{ frame: n, by: 'hand' as const },
  })),
};

describe('a marker that must not be seen', () => {
  const veiledAs = async (edit: (recipe: Recipe) => Recipe, veils: readonly Veil[]) => {
    const { piece } = await pieceOver(app, footage, 'marked.mkv');
    const recipe = edit({
      ...piece.recipe,
      span: { start: 10, end: 50 },
      weigh: { ...piece.recipe.weigh, width: WIDTH, frameRate: 10 },
      dress: { ...UNDRESSED, veils },
    });
    const trial = await finishedTrial(app, piece.id, recipe);
    expect(trial.problem ?? null).toBeNull();
    const response = await fetch(`${app.url}/api/trials/${trial.id}/file`);
    return { bytes: new Uint8Array(await response.arrayBuffer()), recipe };
  };
  /** All pictures of a file as others read them, or as its maker does where they are many files. */
  const picturesOf = async (recipe: Recipe, bytes: Uint8Array): Promise<Uint8Array[]> => {
    if (recipe.weigh.kind === 'gif') return [...(await readWithSharp(bytes)).pictures];
    if (recipe.weigh.kind === 'poster') {
      return [new Uint8Array(await sharp(bytes).ensureAlpha().raw().toBuffer())];
    }
    const frames: Uint8Array[] = [];
    for await (const { rgba } of MAKERS.frames.read(
      bytes,
      Array.from({ length: 40 }, () => 10),
    ))
      frames.push(rgba);
    return frames;
  };

  const LOOPS: Record<string, (recipe: Recipe) => Recipe> = {
    'a cut': (recipe) => recipe,
    'a crossfade': (recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 4 } },
    }),
    'there and back': (recipe) => ({ ...recipe, loop: { ...recipe.loop, join: { kind: 'there-and-back' } } }),
    'a held plate': (recipe) => ({
      ...recipe,
      still: { ...recipe.still, plate: { kind: 'frame', frame: 20 } },
    }),
    'a poster': (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, kind: 'poster' } }),
    'a poster of the plate': (recipe) => ({
      ...recipe,
      still: { ...recipe.still, plate: { kind: 'frame', frame: 30 } },
      weigh: { ...recipe.weigh, kind: 'poster', poster: { ...recipe.weigh.poster, place: 'plate' } },
    }),
    frames: (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, kind: 'frames' } }),
    'another width': (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, width: 200 } }),
  };

  it.each(Object.entries(LOOPS))('is in no picture of the finished file with %s', async (_, edit) => {
    const open = await veiledAs(edit, []);
    const seen = await picturesOf(open.recipe, open.bytes);
    expect(seen.reduce((sum, rgba) => sum + marks(rgba), 0)).toBeGreaterThan(100);
    for (const effect of ['plain', 'blur'] as const) {
      const { bytes, recipe } = await veiledAs(edit, [{ ...overDisc, effect }]);
      const pictures = await picturesOf(recipe, bytes);
      expect(pictures.length).toBe(seen.length);
      expect(pictures.map(marks), effect).toEqual(pictures.map(() => 0));
    }
  });
});

describe('a veil that follows by itself', () => {
  const begin = async (veil: Veil, frame: number, way: 'forwards' | 'backwards') => {
    const { piece } = await pieceOver(app, followable, 'followable.mkv');
    const recipe: Recipe = { ...piece.recipe, dress: { ...UNDRESSED, veils: [veil] } };
    const ended = app.event(({ type, ...event }) => {
      const { follow } = event as { follow?: FollowView };
      return type === 'follow' && follow?.piece === piece.id && follow.state !== 'working';
    });
    const asked = await app.ask<FollowView & Problem>('POST', `pieces/${piece.id}/follow`, {
      ...{ recipe, veil: veil.id, frame, way },
    });
    return { asked, ended: ended as Promise<unknown> as Promise<{ follow: FollowView }> };
  };
  const lyingAt = (n: number): Veil => ({
    ...overDisc,
    keys: [{ ...share(discAt(n).x, discAt(n).y, 2 * RADIUS + 6), frame: n, by: 'hand' }],
  });

  it.each([
    ['forwards', 5, [5, 59]],
    ['backwards', 55, [0, 55]],
  ] as const)('goes %s on the disc’s own way', async (way, frame, [first, last]) => {
    const { ended } = await begin(lyingAt(frame), frame, way);
    const { follow } = await ended;
    expect(follow).toMatchObject({ state: 'done', lostAt: null, handSetAt: null, way });
    expect(follow.confidence).toHaveLength(last - first + 1);
    const followed = { ...overDisc, keys: follow.keys };
    const off = Array.from({ length: last - first + 1 }, (_, i) => {
      const at = veilAt(followed, first + i);
      const { x, y } = discAt(first + i);
      return Math.hypot(
        ((at?.x ?? 0) + (at?.width ?? 0) / 2) * WIDTH - x,
        ((at?.y ?? 0) + (at?.height ?? 0) / 2) * HEIGHT - y,
      );
    });
    expect(off.filter((one) => one <= 0.02 * WIDTH).length).toBeGreaterThanOrEqual(0.95 * off.length);
  });

  it.each([
    ['forwards', 5, 30, 29],
    ['backwards', 40, 12, 13],
  ] as const)(
    'goes %s no further than where a hand set it, and says so',
    async (way, frame, handSetAt, last) => {
      const veil = lyingAt(frame);
      const other = { ...lyingAt(handSetAt).keys[0], frame: handSetAt };
      const keys = [...veil.keys, other].sort((a, b) => a.frame - b.frame);
      const { follow } = await (await begin({ ...veil, keys }, frame, way)).ended;
      const frames = follow.keys.map((key) => key.frame);
      expect(way === 'forwards' ? Math.max(...frames) : Math.min(...frames)).toBe(last);
      expect(follow).toMatchObject({ lostAt: null, handSetAt });
    },
  );

  it('that is not there, or does not lie on the frame, is refused in a sentence', async () => {
    const { asked } = await begin({ ...lyingAt(5), span: { start: 0, end: 10 } }, 20, 'forwards');
    expect(asked.status).toBe(422);
    expect(asked.body.title).toBe('The veil does not lie on this frame. Go to one it lies on.');
  });
});

describe('files of one’s own', () => {
  const fontPath = (id: string) => new URL(`../../core/fonts/${id}.ttf`, import.meta.url);

  it('as fonts are kept, told of, and drawn with', async () => {
    const { status, body } = await put(readFileSync(fontPath('hebrew')), 'font', 'own.ttf');
    expect(status).toBe(201);
    const face = (await app.ask<{ family: string; runs: number[] }>('GET', `fonts/${body.hash}`)).body;
    expect(face.family).toBe('Noto Sans Hebrew');
    const { piece } = await pieceOver(app, footage, 'marked.mkv');
    const draw = async (font: string) => {
      const start = newCaption(CAPTION_STARTS.word, 'c');
      const captions = [{ ...start, text: 'שלום', style: { ...start.style, font } }];
      const recipe: Recipe = { ...piece.recipe, dress: { ...UNDRESSED, captions } };
      return finishedTrial(app, piece.id, { ...recipe, weigh: { ...recipe.weigh, kind: 'poster' } });
    };
    const own = await draw(body.hash);
    expect(own.state).toBe('done');
    expect(own.figures?.bytes).toBe((await draw('hebrew')).figures?.bytes);
  });

  it('that are named by a recipe outlive the sweep; a piece that names a lost one says so', async () => {
    const { body } = await put('LUT_1D_SIZE 2\n0 0 0\n1 1 1\n', 'table', 'own.cube');
    const { piece } = await pieceOver(app, footage, 'marked.mkv');
    const table = { hash: body.hash, name: 'own', strength: 100 };
    const colour = { ...UNDRESSED.colour, table };
    const save = (hash: string, revision: number) =>
      app.ask<Problem>('PUT', `pieces/${piece.id}`, {
        ...{ revision, name: 'x' },
        recipe: {
          ...piece.recipe,
          dress: { ...UNDRESSED, colour: { ...colour, table: { ...table, hash } } },
        },
      });
    expect((await save(body.hash, piece.revision)).status).toBe(200);
    await makeOld(app.dataDir);
    const { dataDir } = app;
    await app.stop(true);
    app = await startApp({ dataDir });
    expect((await fetch(`${app.url}/api/layers/${body.hash}`)).status).toBe(200);
    const lost = await save('f'.repeat(64), piece.revision + 1);
    expect(lost.status).toBe(422);
    expect(lost.body.code).toBe('layers_missing');
  });

  it('as emblems become PNG: WebP, JPEG, and SVG without what it names outside', async () => {
    const square = sharp({ create: { width: 30, height: 20, channels: 4, background: '#e0662f' } });
    for (const bytes of [await square.clone().webp().toBuffer(), await square.clone().jpeg().toBuffer()]) {
      const { status, body } = await put(bytes, 'emblem');
      expect([status, body.width, body.height]).toEqual([201, 30, 20]);
      const kept = Buffer.from(await (await fetch(`${app.url}/api/layers/${body.hash}`)).arrayBuffer());
      expect((await sharp(kept).metadata()).format).toBe('png');
    }
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="20" height="10"><script>x</script><image href="http://127.0.0.1:9/x.png" width="9" height="9"/><rect width="20" height="10" fill="#1f8a70"/></svg>`;
    const drawn = await put(svg, 'emblem', 'sign.svg');
    expect(drawn.body.notes).toEqual([
      '“sign.svg” names scripts or files outside itself. They were left out.',
    ]);
    const kept = Buffer.from(await (await fetch(`${app.url}/api/layers/${drawn.body.hash}`)).arrayBuffer());
    const { data, info } = await sharp(kept).raw().toBuffer({ resolveWithObject: true });
    expect(info.width / info.height).toBe(2);
    expect([...data.subarray(0, 4)]).toEqual([0x1f, 0x8a, 0x70, 255]);
  });

  it('of one pixel is an emblem like any other', async () => {
    const dot = await sharp({ create: { width: 1, height: 1, channels: 4, background: '#ffffff' } })
      .png()
      .toBuffer();
    expect((await put(dot, 'emblem')).body).toMatchObject({ width: 1, height: 1 });
  });

  const bomb = `<!DOCTYPE svg [${'abcdefghij'
    .split('')
    .map((c, i) => `<!ENTITY ${c} "${i === 0 ? 'x' : `&${'abcdefghij'[i - 1]};`.repeat(10)}">`)
    .join('')}]><svg xmlns="http://www.w3.org/2000/svg"><text>&j;</text></svg>`;
  const svgOf = (size: string, inside = '') =>
    `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${inside}<rect width="9" height="9"/></svg>`;
  it.each<[string, LayerKind, Uint8Array | string, string]>([
    ['a font that is none', 'font', 'not a font', 'This font cannot be read'],
    ['a WOFF2 that is none', 'font', `wOF2${'\0'.repeat(200)}`, 'This font cannot be read'],
    [
      'a font that breaks off',
      'font',
      readFileSync(new URL('../../core/fonts/thai.ttf', import.meta.url)).subarray(0, 900),
      'This font cannot be read',
    ],
    ['a table that is none', 'table', 'once upon a time', 'The colour table'],
    ['a table of NaN', 'table', 'LUT_3D_SIZE 17\nNaN NaN NaN', 'line 2'],
    ['a drawing with an entity bomb', 'emblem', bomb, 'declares entities'],
    ['a huge drawing', 'emblem', svgOf('width="900000" height="900000"'), '900000 × 900000 px'],
    ['a drawing that is none', 'emblem', '<svg xmlns="http://www.w3.org/2000/svg"><rect', 'is not a drawing'],
    ['a picture that is none', 'emblem', 'GIF89a?', 'cannot be'],
    ['an unknown kind of file', 'sound' as LayerKind, 'la la', 'is not kept'],
  ])('refuses %s in a sentence, and keeps nothing of it', async (_, kind, bytes, told) => {
    const before = (await app.keptFiles()).length;
    const { status, body } = await put(bytes, kind, 'it');
    expect(status).toBeGreaterThanOrEqual(400);
    expect(status).toBeLessThan(500);
    expect(body.title).toContain(told);
    expect((await app.keptFiles()).length).toBe(before);
  });

  it('of 20,000 px is refused as an emblem by its header', async () => {
    const wide = await sharp({ create: { width: 20_000, height: 8, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    const { status, body } = await put(wide, 'emblem', 'wide.png');
    expect([status, body.code]).toEqual([422, 'too_large']);
    expect(body.title).toContain('20000 × 8 px');
  });

  it('of 30 MB is refused as a table before it is read', async () => {
    const path = join(clips.path, 'large.cube');
    writeFileSync(path, Buffer.alloc(30 * 1024 ** 2, 32));
    const { status, body } = await put(readFileSync(path), 'table', 'large.cube');
    expect([status, body.code]).toEqual([413, 'too_large']);
  });
});

describe('what each look weighs', () => {
  it('is measured on the file with that look, against the one without', async () => {
    const { piece } = await pieceOver(app, footage, 'marked.mkv');
    const recipe: Recipe = {
      ...piece.recipe,
      span: { start: 0, end: 12 },
      weigh: { ...piece.recipe.weigh, width: 96, frameRate: 10 },
      dress: {
        ...UNDRESSED,
        colour: { ...UNDRESSED.colour, look: { id: 'iron-pot', strength: 100 } },
      },
    };
    const ended = app.event((event) => event.type === 'savings' && event.savings.state !== 'working');
    await app.ask('POST', `pieces/${piece.id}/savings`, { recipe, of: 'looks' });
    const { savings } = (await ended) as { savings: SavingsView };
    expect(savings).toMatchObject({ state: 'done', of: 'looks' });
    expect(savings.savings.map((saving) => saving.recipe.dress.colour.look?.id).sort()).toEqual(
      [...LOOK_IDS].sort(),
    );
    const wet = savings.savings.find((saving) => saving.recipe.dress.colour.look?.id === 'wet-slate');
    expect((await finishedTrial(app, piece.id, wet?.recipe)).figures?.bytes).toBe(wet?.bytes);
    const bare = { ...recipe, dress: UNDRESSED };
    expect((await finishedTrial(app, piece.id, bare)).figures?.bytes).toBe(savings.bytes);
  });
});

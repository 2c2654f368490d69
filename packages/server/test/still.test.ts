import { existsSync, readFileSync } from 'node:fs';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { HoldingView, LayerView, MotionView } from '@muted-pond/core/api';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { NOTHING_HELD, type StillSettings } from '@muted-pond/core/still';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { render } from '../src/cli/render.js';
import { finishedTrial, makeOld, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

const [WIDTH, HEIGHT] = [320, 180];

let app: TestApp;
let clips: ClipFolder;
/** A light going round over textured ground; the camera shakes and the light flickers. */
let shaky: string;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  const ground = (x: string, y: string) => `120+40*sin(${x}/9+2*cos(${y}/13))+35*cos(${y}/7+${x}/31)`;
  const [x, y] = ['(X-2.5*sin(N/5))', '(Y-1.5*cos(N/7))'];
  const luma = `if(lt(hypot(X-160-40*cos(N/6)\\,Y-90-25*sin(N/6))\\,14)\\,225\\,(${ground(x, y)})*(1+0.05*sin(N/3)))`;
  shaky = clips.make(
    'shaky.mkv',
    ...['-f', 'lavfi', '-i', `nullsrc=s=${WIDTH}x${HEIGHT}:r=20:d=2`],
    ...['-vf', `format=yuv444p,geq=lum='${luma}':cb=128:cr=128`, '-c:v', 'ffv1'],
  );
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

/** White where the light goes round. */
async function maskPng(width = WIDTH, height = HEIGHT): Promise<Buffer> {
  const values = Buffer.alloc(width * height);
  for (let p = 0; p < values.length; p++) {
    const u = ((p % width) - width / 2) / (width * 0.2);
    const v = (Math.floor(p / width) - height / 2) / (height * 0.27);
    values[p] = Math.max(0, Math.min(255, Math.round((1 - Math.hypot(u, v)) * 800)));
  }
  return sharp(values, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();
}

async function putLayer(png: Buffer, name = 'mask.png'): Promise<Response> {
  return fetch(`${app.url}/api/layers?name=${name}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: png,
  });
}

function heldBy(recipe: Recipe, mask: string, part: Partial<Recipe['still']> = {}): Recipe {
  return {
    ...recipe,
    span: { start: 4, end: 36 },
    weigh: changeWeigh(recipe.weigh, {
      ...{ width: 160, frameRate: 10 },
      gif: { settle: 0, squeeze: 0, dither: 'none' },
    }),
    still: {
      ...NOTHING_HELD,
      plate: { kind: 'frame', frame: 12 },
      ripples: [
        {
          id: 'a',
          name: 'Light',
          mask,
          outlines: [],
          grow: 0,
          feather: 6,
          invert: false,
          shown: true,
          loop: null,
        },
      ],
      ...part,
    },
  };
}

/** Places of a file that are the same in every frame, as a share; and whether one place is. */
async function heldIn(bytes: Buffer) {
  const { pictures, width, height } = await readWithSharp(bytes);
  const isHeld = (p: number) =>
    pictures.every((picture) => [0, 1, 2].every((c) => picture[p * 4 + c] === pictures[0][p * 4 + c]));
  const held = Array.from({ length: width * height }, (_, p) => isHeld(p));
  return { share: held.filter(Boolean).length / held.length, held, width, height, pictures };
}

async function fileOf(id: string): Promise<Buffer> {
  return Buffer.from(await (await fetch(`${app.url}/api/trials/${id}/file`)).arrayBuffer());
}

const CASES: Partial<StillSettings>[] = [{}, { steady: true, evenLight: true }];

describe('a cinemagraph', () => {
  it.each(CASES)(
    'holds everything outside its ripples to the pixel, through to the file (%o)',
    async (part) => {
      const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
      const { hash } = (await (await putLayer(await maskPng())).json()) as LayerView;
      const trial = await finishedTrial(app, piece.id, heldBy(piece.recipe, hash, part));
      expect(trial.state).toBe('done');
      const { held, width, height, share } = await heldIn(await fileOf(trial.id));
      for (let p = 0; p < held.length; p++) {
        const u = ((p % width) - width / 2) / (width * 0.2);
        const v = (Math.floor(p / width) - height / 2) / (height * 0.27);
        // Beyond the feather.
        if (Math.hypot(u, v) > 1.3) expect(held[p]).toBe(true);
      }
      expect(share).toBeLessThan(0.95);
      if (part.steady) {
        const { steady } = trial.figures ?? {};
        expect(steady?.beforePx).toBeGreaterThan(1);
        expect(steady?.afterPx).toBeLessThan(0.3);
        expect(steady?.untrusted).toBe(0);
      } else expect(trial.figures?.steady).toBeNull();
    },
  );

  it('without a ripple that is shown is a still picture', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const { hash } = (await (await putLayer(await maskPng())).json()) as LayerView;
    const recipe = heldBy(piece.recipe, hash);
    const hidden = {
      ...recipe.still,
      ripples: recipe.still.ripples.map((one) => ({ ...one, shown: false })),
    };
    const trial = await finishedTrial(app, piece.id, { ...recipe, still: hidden });
    expect((await heldIn(await fileOf(trial.id))).share).toBe(1);
  });

  it('shows a retouched plate where it is held', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const { hash } = (await (await putLayer(await maskPng())).json()) as LayerView;
    const blue = await sharp({ create: { width: WIDTH, height: HEIGHT, channels: 3, background: '#2040c0' } })
      .png()
      .toBuffer();
    const plate = (await (await putLayer(blue, 'plate.png')).json()) as LayerView;
    const recipe = heldBy(piece.recipe, hash, { plate: { kind: 'picture', frame: 12, hash: plate.hash } });
    const { pictures } = await heldIn(await fileOf((await finishedTrial(app, piece.id, recipe)).id));
    for (const picture of pictures) expect(picture[2]).toBeGreaterThan(150);
  });

  it('whose paint is gone says so, and nothing is made', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const answer = await app.ask<Problem>('POST', `pieces/${piece.id}/trials`, {
      recipe: heldBy(piece.recipe, 'e'.repeat(64)),
    });
    expect(answer.status).toBe(422);
    expect(answer.body.title).toContain('not on the disk');
  });

  it('keeps its paint over a stop; what nobody names goes', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const kept = (await (await putLayer(await maskPng(64, 36))).json()) as LayerView;
    const lost = (await (await putLayer(await maskPng(48, 27))).json()) as LayerView;
    const saved = await app.ask('PUT', `pieces/${piece.id}`, {
      revision: piece.revision,
      name: piece.name,
      recipe: heldBy(piece.recipe, kept.hash),
    });
    expect(saved.status).toBe(200);
    const { dataDir } = app;
    await app.stop(true);
    await makeOld(dataDir);
    app = await startApp({ dataDir });
    expect((await fetch(`${app.url}/api/layers/${kept.hash}`)).status).toBe(200);
    expect((await fetch(`${app.url}/api/layers/${lost.hash}`)).status).toBe(404);
  });
});

describe('a ripple with a round of its own', () => {
  it('shows its own frames in the file, while the other goes with the reel', async () => {
    // Frame N is 40 + 4 N bright, all over.
    const brighter = clips.make(
      'brighter.mkv',
      ...['-f', 'lavfi', '-i', 'nullsrc=s=64x48:r=10:d=4'],
      ...['-vf', "format=yuv444p,geq=lum='40+4*N':cb=128:cr=128", '-c:v', 'ffv1'],
    );
    const { piece } = await pieceOver(app, brighter, 'brighter.mkv');
    const side = async (from: number, to: number) => {
      const values = Uint8Array.from({ length: 64 * 48 }, (_, p) =>
        p % 64 >= from && p % 64 < to ? 255 : 0,
      );
      const png = await sharp(values, { raw: { width: 64, height: 48, channels: 1 } })
        .png()
        .toBuffer();
      return ((await (await putLayer(png)).json()) as LayerView).hash;
    };
    const base = heldBy(piece.recipe, await side(4, 24));
    const [left] = base.still.ripples;
    const loop = { span: { start: 2, end: 7 }, join: { kind: 'cut' as const }, rounds: 2 };
    const ripples = [
      { ...left, feather: 0 },
      { ...left, id: 'b', name: 'Right', feather: 0, mask: await side(40, 60), loop },
    ];
    const recipe = {
      ...base,
      span: { start: 20, end: 30 },
      weigh: { ...base.weigh, width: 64 },
      still: { ...base.still, ripples },
    };
    const { pictures } = await heldIn(await fileOf((await finishedTrial(app, piece.id, recipe)).id));
    expect(pictures).toHaveLength(10);
    const frameAt = (picture: Uint8Array, x: number) => {
      // Limited range luma 16–235 was made full.
      const luma = picture[(24 * 64 + x) * 4] * (219 / 255) + 16;
      return Math.round((luma - 40) / 4);
    };
    expect(pictures.map((picture) => frameAt(picture, 14))).toEqual([20, 21, 22, 23, 24, 25, 26, 27, 28, 29]);
    expect(pictures.map((picture) => frameAt(picture, 50))).toEqual([2, 3, 4, 5, 6, 2, 3, 4, 5, 6]);
    expect(pictures.map((picture) => frameAt(picture, 32))).toEqual(Array(10).fill(12));
  });
});

describe('holding still', () => {
  async function measured(piece: string, recipe: Recipe): Promise<HoldingView> {
    const ended = app.event(
      (event) =>
        event.type === 'holding' && event.holding.piece === piece && event.holding.state !== 'working',
    );
    const { body, status } = await app.ask<HoldingView>('POST', `pieces/${piece}/holding`, { recipe });
    expect(status).toBe(201);
    return body.state === 'done' ? body : ((await ended) as { holding: HoldingView }).holding;
  }

  it('is measured before a file is made: pixels, levels, and where each frame lies; and kept', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const { hash } = (await (await putLayer(await maskPng())).json()) as LayerView;
    const recipe = heldBy(piece.recipe, hash, { steady: true, evenLight: true });
    const { figures, state } = await measured(piece.id, recipe);
    expect(state).toBe('done');
    expect(figures?.steady?.untrusted).toBe(0);
    expect(figures?.steady?.afterPx).toBeLessThan((figures?.steady?.beforePx ?? 0) / 4);
    expect(figures?.light?.before).toBeGreaterThan(3);
    expect(figures?.light?.after).toBeLessThan(1);
    // The camera's path is known, against the plate at frame 12.
    const strayed = Array.from({ length: 16 }, (_, i) => 4 + 2 * i)
      .filter((frame) => frame !== 12)
      .map((frame) => {
        const across = 2.5 * (Math.sin(frame / 5) - Math.sin(12 / 5));
        return across ** 2 + (1.5 * (Math.cos(frame / 7) - Math.cos(12 / 7))) ** 2;
      });
    const truth = Math.sqrt(strayed.reduce((sum, square) => sum + square, 0) / strayed.length);
    expect(figures?.steady?.frames).toBe(strayed.length);
    expect(Math.abs((figures?.steady?.beforePx ?? 0) - truth)).toBeLessThan(0.15);
    const again = await app.ask<HoldingView>('POST', `pieces/${piece.id}/holding`, { recipe });
    expect(again.body).toMatchObject({ state: 'done', figures });
  });

  it('of footage too dark to see says how many frames could not be placed', async () => {
    const dark = clips.make(
      'dark.mkv',
      ...['-f', 'lavfi', '-i', 'color=c=#050505:s=160x90:r=20:d=1', '-c:v', 'ffv1'],
    );
    const { piece } = await pieceOver(app, dark, 'dark.mkv');
    const { hash } = (await (await putLayer(await maskPng(160, 90))).json()) as LayerView;
    const recipe = heldBy(piece.recipe, hash, { steady: true, plate: { kind: 'frame', frame: 3 } });
    const { figures } = await measured(piece.id, { ...recipe, span: { start: 0, end: 20 } });
    expect(figures?.steady?.frames).toBeGreaterThan(5);
    expect(figures?.steady?.untrusted).toBe(figures?.steady?.frames);
  });

  it('where nothing is held says so', async () => {
    const { piece } = await pieceOver(app, shaky, 'shaky.mkv');
    const { state, problem } = await measured(piece.id, piece.recipe);
    expect(state).toBe('failed');
    expect(problem).toContain('Hold a frame of footage first');
  });
});

describe('a layer', () => {
  it('is kept as it came', async () => {
    const png = await maskPng();
    const view = (await (await putLayer(png)).json()) as LayerView;
    expect(view).toMatchObject({ width: WIDTH, height: HEIGHT });
    const back = Buffer.from(await (await fetch(`${app.url}/api/layers/${view.hash}`)).arrayBuffer());
    expect(back.equals(png)).toBe(true);
  });

  it.each([
    ['letter.png', Buffer.from('Dear tea house'), 'letter.png'],
    ['half.png', Buffer.alloc(0), 'half.png'],
  ])('that is no picture is refused by name: %s', async (name, body, word) => {
    const answer = await putLayer(body, name);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(((await answer.json()) as Problem).title).toContain(word);
  });

  it('that is no PNG is refused', async () => {
    const jpeg = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#fff' } })
      .jpeg()
      .toBuffer();
    const answer = await putLayer(jpeg, 'plate.jpg');
    expect(((await answer.json()) as Problem).title).toContain('“plate.jpg” is not a PNG');
  });
});

describe('what moves', () => {
  it('is found where the light goes round, camera and light aside', async () => {
    const { footage } = await pieceOver(app, shaky, 'shaky.mkv');
    const { body } = await app.ask<MotionView>('GET', `footage/${footage.id}/motion?from=0&to=40`);
    const labels = Buffer.from(body.labels, 'base64');
    expect(body.parts.length).toBeGreaterThan(0);
    const at = (x: number, y: number) =>
      labels[Math.round(y * body.height) * body.width + Math.round(x * body.width)];
    // On its way round, and far from it.
    expect(at(0.5 + 40 / WIDTH, 0.5)).toBeGreaterThan(0);
    expect(at(0.5 - 40 / WIDTH, 0.5)).toBeGreaterThan(0);
    expect(at(0.1, 0.1)).toBe(0);
    expect(at(0.9, 0.9)).toBe(0);
  });

  it('needs two frames of the footage', async () => {
    const { footage } = await pieceOver(app, shaky, 'shaky.mkv');
    const { status, body } = await app.ask<Problem>('GET', `footage/${footage.id}/motion?from=30&to=90`);
    expect(status).toBe(422);
    expect(body.title).toContain('from 0 to 40');
  });
});

describe('what moves, where the footage cannot be read,', () => {
  it('is refused with what to do: the file is gone, or its pictures are damaged', async () => {
    const own = await readFile(shaky);
    const { footage } = await pieceOver(app, shaky, 'shaky.mkv');
    const path = join(app.dataDir, 'blobs', footage.id.slice(0, 2), footage.id);
    const motion = () => app.ask<Problem>('GET', `footage/${footage.id}/motion?from=2&to=30`);
    try {
      await writeFile(path, Buffer.alloc(own.length));
      const damaged = await motion();
      expect([damaged.status, damaged.body.title]).toEqual([422, expect.stringContaining('“shaky.mkv”')]);
      await rm(path);
      const gone = await motion();
      expect([gone.status, gone.body.title]).toEqual([410, expect.stringContaining('gone from the disk')]);
    } finally {
      await writeFile(path, own);
    }
    expect((await motion()).status).toBe(200);
  });
});

describe('the command line', () => {
  async function run(...args: string[]) {
    const said: string[] = [];
    const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => said.push(String(text)) > 0);
    try {
      return { code: await render(args), said: said.join('') };
    } finally {
      write.mockRestore();
    }
  }

  it('holds what the mask leaves black, and tells how steady it became', async () => {
    const mask = join(clips.path, 'mask.png');
    await sharp(await maskPng()).toFile(mask);
    const [out, report] = [join(clips.path, 'held.gif'), join(clips.path, 'held.json')];
    const held = ['--mask', mask, '--plate', '8', '--steady', '--even-light', '--width', '160'];
    const { code, said } = await run('--source', shaky, ...held, '--out', out, '--report', report);
    expect(said).toBe('');
    expect(code).toBe(0);
    expect((await heldIn(readFileSync(out))).share).toBeGreaterThan(0.75);
    const { steady } = JSON.parse(readFileSync(report, 'utf8'));
    expect(steady.afterPx).toBeLessThan(steady.beforePx / 4);
  });

  it('finds what moves and what to hold by itself, and leaves nothing behind', async () => {
    const [out, report] = [join(clips.path, 'auto.gif'), join(clips.path, 'auto.json')];
    const before = (await readdir(tmpdir())).filter((name) => name.startsWith('muted-pond-moving-'));
    const auto = ['--ripples', 'auto', '--plate', 'auto', '--steady', '--width', '160', '--settle', '0'];
    const { code, said } = await run('--source', shaky, ...auto, '--out', out, '--report', report);
    expect(said).toBe('');
    expect(code).toBe(0);
    const { held, width, height } = await heldIn(readFileSync(out));
    const at = (x: number, y: number) => held[Math.floor(y * height) * width + Math.floor(x * width)];
    // On its way round, and far from it.
    expect(at(0.5 + 40 / WIDTH, 0.5)).toBe(false);
    for (const [x, y] of [
      [0.08, 0.1],
      [0.92, 0.9],
      [0.1, 0.5],
    ]) {
      expect(at(x, y)).toBe(true);
    }
    expect((await readdir(tmpdir())).filter((name) => name.startsWith('muted-pond-moving-'))).toEqual(before);
  });

  it('refuses a mask of another shape, a plate that is not there, and steadying without a mask', async () => {
    const square = join(clips.path, 'square.png');
    await sharp(await maskPng(100, 100)).toFile(square);
    const mask = join(clips.path, 'fine.png');
    await sharp(await maskPng()).toFile(mask);
    const out = join(clips.path, 'never.gif');
    for (const [flags, sentence] of [
      [['--mask', square], 'give a mask of the footage’s shape'],
      [['--mask', mask, '--plate', '40'], 'the frames 0 to 39'],
      [['--steady'], 'need --mask FILE.png'],
      [['--mask', mask, '--ripples', 'auto'], 'both say what moves'],
      [['--ripples', 'three'], 'auto is what there is'],
      [['--mask', 'nowhere.png'], '“nowhere.png” does not exist'],
    ] as const) {
      const { code, said } = await run('--source', shaky, ...flags, '--out', out);
      expect(code).toBe(1);
      expect(said).toContain(sentence);
      expect(existsSync(out)).toBe(false);
    }
  });
});

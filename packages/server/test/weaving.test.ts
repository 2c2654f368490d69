import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { PondEvent, WeaveAdviceView, WeavingView } from '@muted-pond/core/api';
import { joinOf, type Woven } from '@muted-pond/core/loop';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { STILL } from '@muted-pond/core/weave';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { render } from '../src/cli/render.js';
import { finishedTrial, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

const [WIDTH, HEIGHT, FRAMES] = [192, 96, 130];
/** Both lights are as they were after this many frames. */
const COMMON = 60;

let app: TestApp;
let clips: ClipFolder;
/** Two lights that breathe over textured ground, one every 20 frames and one every 30. */
let lights: string;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  const ground = '100+20*sin(X/6)*cos(Y/5)';
  const light = (x: number, period: number) =>
    `(45+40*sin(2*PI*N/${period}))*exp(-(pow(X-${x}\\,2)+pow(Y-48\\,2))/120)`;
  lights = clips.make(
    'lights.mkv',
    ...['-f', 'lavfi', '-i', `nullsrc=s=${WIDTH}x${HEIGHT}:r=25:d=${FRAMES / 25}`],
    ...['-vf', `format=yuv444p,geq=lum='${ground}+${light(40, 20)}+${light(150, 30)}':cb=128:cr=128`],
    ...['-c:v', 'ffv1'],
  );
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

function wovenOver(recipe: Recipe, part: Partial<Woven> = {}): Recipe {
  const join = { ...(joinOf({ kind: 'per-pixel' }).over(COMMON) as Woven), steady: false, ...part };
  return {
    ...recipe,
    span: { start: 0, end: FRAMES },
    loop: { ...recipe.loop, join },
    weigh: changeWeigh(recipe.weigh, {
      ...{ width: WIDTH, frameRate: 25 },
      gif: { settle: 0, squeeze: 0, dither: 'none' },
    }),
  };
}

async function woven(piece: string, recipe: Recipe): Promise<WeavingView> {
  const ended = app.event(
    (event) => event.type === 'weaving' && event.weaving.piece === piece && event.weaving.state !== 'working',
  );
  const { body, status } = await app.ask<WeavingView>('POST', `pieces/${piece}/weaving`, { recipe });
  expect(status).toBe(201);
  if (body.state !== 'working') return body;
  return ((await ended) as Extract<PondEvent, { type: 'weaving' }>).weaving;
}

const cached = () =>
  readdirSync(join(app.dataDir, 'cache'), { recursive: true }).filter((name) =>
    String(name).includes('woven-'),
  );

describe('weaving on the server', () => {
  it('solves what a recipe asks for, keeps it, and answers at once when asked again', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const recipe = wovenOver(piece.recipe);
    const view = await woven(piece.id, recipe);
    expect(view.problem).toBeNull();
    const part = view.parts?.reel;
    if (!part) throw new Error('Nothing was woven.');
    expect(part.weave.length).toBe(COMMON);
    const { cols, starts } = part.weave;
    const at = (x: number, y: number) => starts[Math.floor(y / 8) * cols + Math.floor(x / 8)];
    expect(at(40, 48)).not.toBe(STILL);
    expect(at(150, 48)).not.toBe(STILL);
    expect(at(96, 4)).toBe(STILL);
    expect(part.seam.score).toBeGreaterThan(85);
    expect(cached()).not.toEqual([]);
    const again = await app.ask<WeavingView>('POST', `pieces/${piece.id}/weaving`, { recipe });
    expect(again.body).toMatchObject({ state: 'done', key: view.key });
    const other = await woven(piece.id, wovenOver(piece.recipe, { liveliness: 3 }));
    expect(other.key).not.toBe(view.key);
  });

  it('is what the file shows: every light comes round, and the ground never changes', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const recipe = wovenOver(piece.recipe);
    const { parts } = await woven(piece.id, recipe);
    const trial = await finishedTrial(app, piece.id, recipe);
    expect(trial.figures).toMatchObject({ frames: COMMON, durationMs: (COMMON / 25) * 1000 });
    const bytes = Buffer.from(await (await fetch(`${app.url}/api/trials/${trial.id}/file`)).arrayBuffer());
    const { pictures } = await readWithSharp(bytes);
    const level = (t: number, x: number, y: number) => pictures[t % COMMON][(y * WIDTH + x) * 4];
    for (const x of [40, 150]) {
      const steps = pictures.map((_, t) => Math.abs(level(t + 1, x, 48) - level(t, x, 48)));
      // Over the joint it runs on as it does everywhere else.
      expect(steps[COMMON - 1]).toBeLessThanOrEqual(Math.max(...steps.slice(0, -1)) + 3);
      expect(Math.max(...steps)).toBeGreaterThan(5);
    }
    if (!parts) throw new Error('Nothing was woven.');
    const { cols, starts } = parts.reel.weave;
    const held = [...starts.keys()].filter(
      (cell) =>
        cell % cols > 0 &&
        cell % cols < cols - 1 &&
        [-cols - 1, -cols, -cols + 1, -1, 0, 1, cols - 1, cols, cols + 1].every(
          (by) => (starts[cell + by] ?? STILL) === STILL,
        ),
    );
    expect(held.length).toBeGreaterThan(10);
    for (const cell of held) {
      const [x, y] = [(cell % cols) * 8 + 3, Math.floor(cell / cols) * 8 + 3];
      for (const picture of pictures) {
        expect(picture[(y * WIDTH + x) * 4]).toBe(pictures[0][(y * WIDTH + x) * 4]);
      }
    }
  });

  it('tells what is missing of a span, and weaves nothing that nobody asks for', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const short = { ...wovenOver(piece.recipe), span: { start: 10, end: 60 } };
    expect(await woven(piece.id, short)).toMatchObject({ state: 'done', parts: {} });
    // The file is made all the same, as a cut.
    const trial = await finishedTrial(app, piece.id, short);
    expect(trial.figures?.frames).toBe(50);
  });

  it('can be stopped', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const recipe = wovenOver(piece.recipe, { liveliness: 33 });
    await app.ask('POST', `pieces/${piece.id}/weaving`, { recipe });
    const { status } = await app.ask('DELETE', `pieces/${piece.id}/weaving`);
    expect(status).toBe(200);
    expect((await woven(piece.id, recipe)).state).toBe('done');
  });

  it('refuses settings that cannot be', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    for (const wrong of [{ liveliness: 1 }, { frames: 2 }, { plate: -1 }, { touches: [{ moves: true }] }]) {
      const recipe = wovenOver(piece.recipe, wrong as Partial<Woven>);
      const { status, body } = await app.ask<Problem>('POST', `pieces/${piece.id}/weaving`, { recipe });
      expect(status).toBe(400);
      expect(body.title).not.toBe('');
    }
  });

  it('advises the length after which everything is as it was', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const ask = {
      recipe: { ...piece.recipe, span: { start: 20, end: 70 } },
      length: { min: 1, max: 4 },
      within: 'around',
    };
    const ended = app.event((event) => event.type === 'weave-advice' && event.advice.state !== 'working');
    const { body } = await app.ask<WeaveAdviceView>('POST', `pieces/${piece.id}/weave-advice`, ask);
    const view =
      body.state === 'working'
        ? ((await ended) as Extract<PondEvent, { type: 'weave-advice' }>).advice
        : body;
    expect(view.advice?.join.frames).toBe(COMMON);
    expect(view.advice?.energy).toBeLessThan(5);
    expect(view.advice?.span).toEqual({ start: 0, end: FRAMES });
    const again = await app.ask<WeaveAdviceView>('POST', `pieces/${piece.id}/weave-advice`, ask);
    expect(again.body).toMatchObject({ state: 'done', advice: view.advice });
    const none = await app.ask<WeaveAdviceView>('POST', `pieces/${piece.id}/weave-advice`, {
      ...ask,
      length: { min: 60, max: 90 },
    });
    expect([none.status, none.body.state]).toEqual([201, 'working']);
    // Where all that moves goes round by itself, there is nothing to weave with the reel; that is no failure.
    const told = app.event((event) => event.type === 'weave-advice' && event.advice.state !== 'working');
    const outline = {
      adds: true,
      points: [
        { x: 0.1, y: 0.2, smooth: false },
        { x: 0.4, y: 0.2, smooth: false },
        { x: 0.3, y: 0.8, smooth: false },
      ],
    };
    const loop = { span: { start: 0, end: 40 }, join: { kind: 'cut' as const }, rounds: 1 };
    const ripple = {
      id: 'a',
      name: 'a',
      mask: null,
      outlines: [outline],
      grow: 0,
      feather: 2,
      invert: false,
      shown: true,
      loop,
    };
    const held = {
      ...piece.recipe,
      still: { ...piece.recipe.still, plate: { kind: 'frame' as const, frame: 3 }, ripples: [ripple] },
    };
    await app.ask('POST', `pieces/${piece.id}/weave-advice`, { ...ask, recipe: held });
    expect(await told).toMatchObject({ advice: { state: 'done', advice: null, problem: null } });
  });
});

describe('the command line', () => {
  async function run(...args: string[]): Promise<{ code: number; said: string }> {
    const said: string[] = [];
    const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
      said.push(String(text));
      return true;
    });
    try {
      return { code: await render(['--source', lights, '--width', '96', ...args]), said: said.join('') };
    } finally {
      write.mockRestore();
    }
  }

  it('weaves over the best length, and tells which', async () => {
    const [out, report] = [join(clips.path, 'woven.gif'), join(clips.path, 'woven.json')];
    const { code, said } = await run(
      ...['--join', 'woven:20', '--loop-length', '1,4', '--fps', '25', '--out', out, '--report', report],
    );
    expect([code, said]).toEqual([0, '']);
    const told = JSON.parse(readFileSync(report, 'utf8'));
    expect(told).toMatchObject({ frames: COMMON, durationMs: 2400 });
    expect(told.loop).toMatchObject({ startFrame: 0, endFrame: COMMON });
    expect((await readWithSharp(readFileSync(out))).pictures.length).toBeGreaterThan(COMMON / 2);
  });

  it('makes a recipe that is woven as it says, without looking for another length', async () => {
    const { piece } = await pieceOver(app, lights, 'lights.mkv');
    const click = { moves: false, points: [[0.2, 0.5]] as [number, number][], radius: null };
    const path = join(clips.path, 'woven-recipe.json');
    const [out, report] = [join(clips.path, 'as it says.gif'), join(clips.path, 'as it says.json')];
    writeFileSync(path, JSON.stringify(wovenOver(piece.recipe, { frames: 40, touches: [click] })));
    expect(await run('--recipe', path, '--out', out, '--report', report)).toEqual({ code: 0, said: '' });
    expect(JSON.parse(readFileSync(report, 'utf8'))).toMatchObject({ frames: 40, durationMs: 1600 });
    // One whose span is too short says what it lacks.
    writeFileSync(path, JSON.stringify({ ...wovenOver(piece.recipe), span: { start: 10, end: 60 } }));
    const { code, said } = await run('--recipe', path, '--out', out);
    expect([code, said]).toEqual([1, expect.stringContaining('needs 23 frames more than the span has')]);
  });

  it('takes a cut where one is good, also when it may weave', async () => {
    const [out, report] = [join(clips.path, 'cut.gif'), join(clips.path, 'cut.json')];
    const { code } = await run(
      ...['--loop', 'auto', '--joins', 'cut,crossfade,woven', '--loop-length', '2,3'],
      ...['--out', out, '--report', report],
    );
    expect(code).toBe(0);
    const { loop } = JSON.parse(readFileSync(report, 'utf8'));
    expect(loop.endFrame - loop.startFrame).toBe(COMMON);
    expect(loop.score).toBeGreaterThanOrEqual(92);
  });

  it.each([
    [['--join', 'woven:1'], 'woven or woven:HOW_MUCH with HOW_MUCH from 2 to 64'],
    [['--join', 'woven:much'], 'woven:HOW_MUCH'],
    [['--join', 'woven', '--to', '1'], 'needs 13 frames more than its round; between --from and --to lie 25'],
    [['--joins', 'cut,woven'], '--joins belongs to --loop auto'],
    [['--loop', 'auto', '--joins', 'cut,glue'], 'choose among cut, crossfade, flowed, there-and-back, woven'],
  ])('refuses %j', async (flags, sentence) => {
    const { code, said } = await run(...flags, '--out', join(clips.path, 'never.gif'));
    expect(code).toBe(1);
    expect(said).toContain(sentence);
    expect(said.trim().split('\n')).toHaveLength(1);
  });
});

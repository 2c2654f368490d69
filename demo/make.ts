/**
 * Draws the demo footage: `npm run make-demo [-- name … --draw-again]`; drawn graphics are made when named,
 * or all again. Everything in it is made up and drawn here. Beside each clip goes what is true of it: the
 * periods of its movers, the camera's path, the light, and a mask of where it moves.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { GRAPHICS } from './graphics/index.js';
import { createGrain, develop, expose } from './paint/film.js';
import { createLight, encodeLevel } from './paint/light.js';
import { pipeFrames } from './pipe-frames.js';
import { MARGIN, SCENES, type Scene } from './scenes/index.js';

const HERE = fileURLToPath(new URL('.', import.meta.url));
const OUT = join(HERE, 'footage');
const RAW = join(HERE, 'raw');

/** Draws every frame into a lossless file, which is kept so that another encoding need not draw anew. */
async function film(scene: Scene, raw: string): Promise<void> {
  const { width, height, framesPerSecond } = scene;
  const frames = Math.round(scene.seconds * framesPerSecond);
  const grain = createGrain(scene.name.length * 101, scene.grain);
  await pipeFrames({
    width,
    height,
    framesPerSecond,
    pixelFormat: 'rgb24',
    output: ['-c:v', 'libx264rgb', '-qp', '0', '-preset', 'ultrafast', `${raw}.half.mkv`],
    frames: (function* () {
      for (let frame = 0; frame < frames; frame++) {
        const picture = createLight(width, height);
        for (let k = 0; k < scene.shutterSamples; k++) {
          const moment = (frame + (0.5 * (k + 0.5)) / scene.shutterSamples) / framesPerSecond;
          expose(picture, scene.paint(moment), scene.camera(moment), 1 / scene.shutterSamples);
        }
        yield grain(develop(picture, scene.gain(frame / framesPerSecond), scene.vignette));
        if (frame % 10 === 0) process.stdout.write(`\r${scene.name}: frame ${frame} of ${frames} `);
      }
    })(),
  });
  renameSync(`${raw}.half.mkv`, raw);
  process.stdout.write(`\r${scene.name}: ${frames} frames        \n`);
}

async function encode(scene: Scene, raw: string): Promise<void> {
  const target = join(OUT, scene.file);
  const lying = join(RAW, `lying-${scene.file}`);
  await runEncoder([
    ...[
      '-i',
      raw,
      '-vf',
      `${scene.storedTurned ? 'transpose=cclock,' : ''}scale=out_color_matrix=bt709:out_range=tv`,
    ],
    ...['-colorspace', 'bt709', '-color_range', 'tv', '-color_trc', 'bt709', '-color_primaries', 'bt709'],
    ...[
      '-fflags',
      '+bitexact',
      '-flags:v',
      '+bitexact',
      ...scene.encoder,
      scene.storedTurned ? lying : target,
    ],
  ]);
  // How it is to be turned back can only be noted while copying.
  if (scene.storedTurned)
    await runEncoder(['-i', lying, '-c', 'copy', '-metadata:s:v:0', 'rotate=270', target]);
}

async function runEncoder(args: readonly string[]): Promise<void> {
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...args], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const [code] = await once(encoder, 'close');
  if (code !== 0) throw new Error(`The encoder ended with ${code} on ${args.at(-1)}.`);
}

/** Temporal standard deviation, in levels, above which a place counts as moving. */
const MOVES_ABOVE = 2.5;

/** Where the scene itself moves, without camera, light or grain: white where it does. */
async function writeMoves(scene: Scene): Promise<void> {
  const { width, height } = scene;
  const moments = 32;
  const sums = new Float64Array(width * height);
  const squares = new Float64Array(width * height);
  for (let m = 0; m < moments; m++) {
    const light = scene.paint((scene.seconds * (m + 0.37)) / moments);
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        const at = ((y + MARGIN) * light.width + x + MARGIN) * 4;
        const level =
          0.299 * encodeLevel(light.data[at]) +
          0.587 * encodeLevel(light.data[at + 1]) +
          0.114 * encodeLevel(light.data[at + 2]);
        sums[p] += level;
        squares[p] += level * level;
      }
    }
  }
  const mask = Uint8Array.from(sums, (sum, p) => {
    const mean = sum / moments;
    return Math.sqrt(Math.max(0, squares[p] / moments - mean * mean)) > MOVES_ABOVE ? 255 : 0;
  });
  await pipeFrames({
    width,
    height,
    framesPerSecond: 1,
    pixelFormat: 'gray',
    output: ['-frames:v', '1', join(OUT, `${scene.name}.moves.png`)],
    frames: [mask],
  });
}

function writeTruth(scene: Scene): void {
  const frames = Math.round(scene.seconds * scene.framesPerSecond);
  const moments = Array.from({ length: frames }, (_, frame) => (frame + 0.25) / scene.framesPerSecond);
  const round = (value: number, digits: number) => Number(value.toFixed(digits));
  const truth = {
    file: scene.file,
    width: scene.width,
    height: scene.height,
    framesPerSecond: scene.framesPerSecond,
    frames,
    movers: scene.movers.map((mover) => ({
      ...mover,
      periodFrames:
        mover.periodSeconds === null ? null : round(mover.periodSeconds * scene.framesPerSecond, 3),
    })),
    movesMask: `${scene.name}.moves.png`,
    camera: {
      about:
        'Shift of the picture in px and roll in radians about its centre, at the middle of each exposure.',
      path: moments.map((t) => {
        const { x, y, roll } = scene.camera(t);
        return [round(x, 4), round(y, 4), round(roll, 7)];
      }),
    },
    lightGain: moments.map((_, frame) => round(scene.gain(frame / scene.framesPerSecond), 5)),
    grainLevels: scene.grain,
  };
  const text = JSON.stringify(truth, null, 1).replace(
    /\[\s+(-?[\d.e-]+),\s+(-?[\d.e-]+),\s+(-?[\d.e-]+)\s+\]/g,
    '[$1, $2, $3]',
  );
  writeFileSync(join(OUT, `${scene.name}.truth.json`), `${text}\n`);
}

mkdirSync(OUT, { recursive: true });
mkdirSync(RAW, { recursive: true });
const again = process.argv.includes('--draw-again');
const wanted = process.argv.slice(2).filter((word) => !word.startsWith('--'));
for (const build of SCENES) {
  const scene = build();
  if (wanted.length > 0 && !wanted.includes(scene.name)) continue;
  const raw = join(RAW, `${scene.name}.mkv`);
  if (again || !existsSync(raw)) {
    writeTruth(scene);
    await writeMoves(scene);
    await film(scene, raw);
  }
  await encode(scene, raw);
}
for (const [name, make] of Object.entries(GRAPHICS)) {
  const isNew = wanted.includes(name) || (wanted.length === 0 && again);
  if (isNew) await make(OUT);
}

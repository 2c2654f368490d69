import { handHeld, lightDrift } from '../paint/camera.js';
import {
  createLight,
  drawLight,
  type Light,
  paintSvg,
  sampleInside,
  sampleLight,
  spriteMap,
} from '../paint/light.js';
import { seededRandom, smoothstep, valueNoise } from '../paint/random.js';
import { MARGIN, type Scene } from './scene.js';

const WIDTH = 1280 + 2 * MARGIN;
const HEIGHT = 720 + 2 * MARGIN;
const PERIOD = 3;
const TURN = (2 * Math.PI) / PERIOD;

const PEBBLE_HUES = [28, 18, 42, 205, 222, 350, 95, 160, 12, 270];

/** Pebbles of many stones, larger ones first, from a fixed seed. */
function pebbles(count: number): string {
  const random = seededRandom(77);
  return Array.from({ length: count }, (_, i) => {
    const size = 12 + 46 * (1 - i / count) * random();
    const hue = PEBBLE_HUES[Math.floor(random() * PEBBLE_HUES.length)] + 14 * (random() - 0.5);
    const fill = `hsl(${Math.round((hue + 360) % 360)}, ${Math.round(20 + 32 * random())}%, ${Math.round(28 + 36 * random())}%)`;
    const x = random() * WIDTH;
    const y = random() * HEIGHT;
    const turn = random() * 180;
    return `<g transform="translate(${x} ${y}) rotate(${turn})"><ellipse cx="3" cy="6" rx="${size}" ry="${size * 0.7}" fill="#0c1f1d" opacity=".5"/><ellipse rx="${size}" ry="${size * 0.68}" fill="${fill}"/><ellipse cx="${-size * 0.2}" cy="${-size * 0.2}" rx="${size * 0.55}" ry="${size * 0.3}" fill="#fff" opacity=".12"/></g>`;
  }).join('');
}

const BED = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <radialGradient id="deep" cx=".42" cy=".4" r=".8"><stop offset="0" stop-color="#3c7f78" stop-opacity=".3"/><stop offset=".55" stop-color="#1f5a5c" stop-opacity=".58"/><stop offset="1" stop-color="#0d2c38" stop-opacity=".86"/></radialGradient>
    <linearGradient id="sky" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#b8d7ee" stop-opacity=".3"/><stop offset=".4" stop-color="#b8d7ee" stop-opacity="0"/><stop offset="1" stop-color="#f0b6a2" stop-opacity=".2"/></linearGradient>
    <filter id="silt" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".03" numOctaves="5" seed="8"/>
      <feColorMatrix values="0 0 0 0 .05  0 0 0 0 .12  0 0 0 0 .09  1.1 0 0 0 -.4"/>
    </filter>
    <filter id="soft" x="-2%" y="-2%" width="104%" height="104%"><feGaussianBlur stdDeviation="1.6"/></filter>
  </defs>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="#3d5a4e"/>
  <g filter="url(#soft)">${pebbles(420)}</g>
  <rect width="${WIDTH}" height="${HEIGHT}" filter="url(#silt)"/>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#deep)"/>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#sky)"/>
</svg>`;

/** A fallen leaf that floats. */
function leaf(fill: string, vein: string): string {
  return `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 60" width="90" height="60">
  <path d="M4 30 C22 2 60 2 84 30 C60 58 22 58 4 30Z" fill="${fill}"/>
  <path d="M2 30H80M24 30L36 14M24 30L36 46M44 30L58 15M44 30L58 45" stroke="${vein}" stroke-width="2" fill="none"/>
</svg>`;
}

const LOTUS = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="-60 -60 120 120" width="120" height="120">
  ${[0, 45, 90, 135, 180, 225, 270, 315].map((a) => `<path transform="rotate(${a})" d="M0 0 C16 -18 14 -44 0 -56 C-14 -44 -16 -18 0 0Z" fill="#f3a9c0" stroke="#d9779a" stroke-width="1.5"/>`).join('')}
  ${[22, 82, 142, 202, 262, 322].map((a) => `<path transform="rotate(${a})" d="M0 0 C12 -12 11 -30 0 -38 C-11 -30 -12 -12 0 0Z" fill="#fbdbe4"/>`).join('')}
  <circle r="11" fill="#f2c230"/>
</svg>`;

/** A carp from above, head to the right, 240 px long. */
function carp(body: string, patch: string, belly: string): string {
  return `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 260 120" width="260" height="120">
  <defs>
    <linearGradient id="b" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${belly}"/><stop offset=".5" stop-color="${body}"/><stop offset="1" stop-color="${belly}"/></linearGradient>
    <clipPath id="c"><path d="M246 60 C236 36 190 26 140 32 C100 38 66 50 44 60 C66 70 100 82 140 88 C190 94 236 84 246 60Z"/></clipPath>
    <filter id="scale" x="0" y="0" width="100%" height="100%"><feTurbulence type="fractalNoise" baseFrequency=".16 .2" numOctaves="2" seed="4"/><feColorMatrix values="0 0 0 0 .3  0 0 0 0 .16  0 0 0 0 .1  .7 0 0 0 -.3"/><feComposite in2="SourceAlpha" operator="in"/></filter>
    <filter id="s"><feGaussianBlur stdDeviation="1.1"/></filter>
  </defs>
  <g filter="url(#s)">
    <g fill="${belly}" opacity=".72"><path d="M170 34 C160 10 140 4 128 8 C138 18 146 28 150 36Z"/><path d="M170 86 C160 110 140 116 128 112 C138 102 146 92 150 84Z"/><path d="M60 60 C36 44 18 34 4 30 C14 46 16 56 14 60 C16 64 14 74 4 90 C18 86 36 76 60 60Z"/></g>
    <path d="M246 60 C236 36 190 26 140 32 C100 38 66 50 44 60 C66 70 100 82 140 88 C190 94 236 84 246 60Z" fill="url(#b)"/>
    <g clip-path="url(#c)" fill="${patch}"><ellipse cx="196" cy="52" rx="26" ry="20"/><ellipse cx="138" cy="66" rx="30" ry="18"/><ellipse cx="88" cy="54" rx="18" ry="11"/></g>
    <path d="M246 60 C236 36 190 26 140 32 C100 38 66 50 44 60 C66 70 100 82 140 88 C190 94 236 84 246 60Z" filter="url(#scale)"/>
    <path d="M226 60 C180 56 120 57 60 60" stroke="#40231a" stroke-opacity=".32" stroke-width="4" fill="none"/>
    <circle cx="226" cy="48" r="3" fill="#1b1512"/><circle cx="226" cy="72" r="3" fill="#1b1512"/>
  </g>
</svg>`;
}

const PAD = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 200" width="200" height="200">
  <defs>
    <radialGradient id="p" cx=".42" cy=".38" r=".7"><stop offset="0" stop-color="#93b566"/><stop offset=".6" stop-color="#5c8a4a"/><stop offset="1" stop-color="#35602f"/></radialGradient>
    <filter id="leaf" x="0" y="0" width="100%" height="100%"><feTurbulence type="fractalNoise" baseFrequency=".05" numOctaves="4" seed="6"/><feColorMatrix values="0 0 0 0 .09  0 0 0 0 .2  0 0 0 0 .06  .9 0 0 0 -.34"/><feComposite in2="SourceAlpha" operator="in"/></filter>
  </defs>
  <path d="M100 100 L188 70 A92 92 0 1 1 168 36Z" fill="url(#p)"/><path d="M100 100 L188 70 A92 92 0 1 1 168 36Z" filter="url(#leaf)"/>
  <g stroke="#c7dba0" stroke-opacity=".4" stroke-width="2">${[20, 60, 100, 140, 180, 220, 260, 300]
    .map((a) => {
      const r = ((a + 20) * Math.PI) / 180;
      return `<path d="M100 100 L${100 + 82 * Math.cos(r)} ${100 + 82 * Math.sin(r)}"/>`;
    })
    .join('')}</g>
</svg>`;

const SHADE = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 260 260" width="260" height="260">
  <defs><filter id="s" x="-40%" y="-40%" width="180%" height="180%"><feGaussianBlur stdDeviation="11"/></filter></defs>
  <circle cx="130" cy="130" r="86" fill="#04110f" filter="url(#s)"/>
</svg>`;

interface Swimmer {
  readonly sprite: Light;
  readonly centre: readonly [number, number];
  readonly radius: readonly [number, number];
  readonly phase: number;
  readonly direction: 1 | -1;
  readonly scale: number;
}

const LEAVES = [
  { x: 620, y: 120, turn: 0.5, phase: 0.7 },
  { x: 210, y: 560, turn: 2.4, phase: 2.1 },
  { x: 1120, y: 250, turn: 4.0, phase: 3.6 },
  { x: 700, y: 640, turn: 5.3, phase: 5.0 },
];

const PADS = [
  { x: 150, y: 150, scale: 1.05, turn: 0.4, phase: 0 },
  { x: 300, y: 92, scale: 0.7, turn: 2.2, phase: 1.4 },
  { x: 1150, y: 560, scale: 1.2, turn: 4.1, phase: 2.8 },
  { x: 1010, y: 680, scale: 0.75, turn: 5.2, phase: 4.4 },
  { x: 770, y: 60, scale: 0.62, turn: 1.1, phase: 3.3 },
];

export function koiScene(): Scene {
  const bed = paintSvg(BED, WIDTH);
  const pad = paintSvg(PAD, 200);
  const shade = paintSvg(SHADE, 260);
  const white = paintSvg(carp('#fdf6ea', '#e2582a', '#d9cdb9'), 260);
  const orange = paintSvg(carp('#f07a34', '#d4491f', '#b9501f'), 260);
  const gold = paintSvg(carp('#f2b64a', '#e08a2a', '#c08a2c'), 260);
  const lotus = paintSvg(LOTUS, 120);
  const leaves = [
    paintSvg(leaf('#c8402c', '#7d1f17'), 90),
    paintSvg(leaf('#e6a93a', '#9a6415'), 90),
    paintSvg(leaf('#9a4b86', '#5a2450'), 90),
    paintSvg(leaf('#e8743a', '#97401a'), 90),
  ];
  const noise = valueNoise(41);
  const swimmers: Swimmer[] = [
    { sprite: white, centre: [480, 400], radius: [230, 170], phase: 0.2, direction: 1, scale: 0.95 },
    { sprite: orange, centre: [500, 390], radius: [310, 235], phase: 2.5, direction: 1, scale: 0.82 },
    { sprite: gold, centre: [860, 330], radius: [190, 165], phase: 4.0, direction: -1, scale: 0.78 },
    { sprite: white, centre: [850, 350], radius: [280, 210], phase: 1.1, direction: -1, scale: 1.0 },
  ];

  return {
    name: 'koi',
    file: 'koi.webm',
    width: 1280,
    height: 720,
    framesPerSecond: 30,
    seconds: 6,
    movers: [
      { name: 'carp', periodSeconds: PERIOD },
      { name: 'water', periodSeconds: PERIOD },
      { name: 'lily pads', periodSeconds: PERIOD },
    ],
    camera: handHeld(29, 0.7),
    gain: lightDrift(23, 0.01, 0.003),
    vignette: 0.26,
    grain: 1.8,
    shutterSamples: 3,
    encoder: [
      '-c:v',
      'libvpx-vp9',
      '-b:v',
      '0',
      '-crf',
      '30',
      '-row-mt',
      '1',
      '-cpu-used',
      '4',
      '-pix_fmt',
      'yuv420p',
    ],
    paint(seconds) {
      const under = createLight(WIDTH, HEIGHT);
      under.data.set(bed.data);
      for (const fish of swimmers) drawFishShadow(under, shade, fish, seconds);
      for (const fish of swimmers) drawFish(under, fish, seconds);
      const scene = refract(under, seconds, noise);
      LEAVES.forEach((spot, i) => {
        const drift = TURN * seconds + spot.phase;
        const place: [number, number] = [spot.x + 5 * Math.sin(drift), spot.y + 4 * Math.cos(drift)];
        drawLight(scene, shade, spriteMap([130, 130], [place[0] + 10, place[1] + 14], 0, 0.34), 0.4);
        drawLight(scene, leaves[i], spriteMap([45, 30], place, spot.turn + 0.09 * Math.sin(drift + 1)));
      });
      for (const leaf of PADS) {
        const bob = Math.sin(TURN * seconds + leaf.phase);
        const place: [number, number] = [
          leaf.x + 3 * bob,
          leaf.y + 2 * Math.cos(TURN * seconds + leaf.phase),
        ];
        drawLight(
          scene,
          shade,
          spriteMap([130, 130], [place[0] + 16, place[1] + 22], 0, leaf.scale * 1.05),
          0.5,
        );
        drawLight(scene, pad, spriteMap([100, 100], place, leaf.turn + 0.02 * bob, leaf.scale));
      }
      const sway = Math.sin(TURN * seconds + PADS[2].phase);
      drawLight(scene, lotus, spriteMap([60, 60], [PADS[2].x + 34 + 3 * sway, PADS[2].y - 30], 0.05 * sway));
      return scene;
    },
  };
}

function pose(fish: Swimmer, seconds: number) {
  const angle = fish.phase + fish.direction * TURN * seconds;
  const x = fish.centre[0] + fish.radius[0] * Math.cos(angle);
  const y = fish.centre[1] + fish.radius[1] * Math.sin(angle);
  const heading = Math.atan2(
    fish.direction * fish.radius[1] * Math.cos(angle),
    -fish.direction * fish.radius[0] * Math.sin(angle),
  );
  return { x, y, heading };
}

function drawFishShadow(to: Light, shade: Light, fish: Swimmer, seconds: number): void {
  const { x, y, heading } = pose(fish, seconds);
  const long = 0.95 * fish.scale;
  const wide = 0.36 * fish.scale;
  const cos = Math.cos(heading);
  const sin = Math.sin(heading);
  const cx = x + 24;
  const cy = y + 32;
  drawLight(
    to,
    shade,
    [
      cos / long,
      sin / long,
      130 - (cos * cx + sin * cy) / long,
      -sin / wide,
      cos / wide,
      130 - (-sin * cx + cos * cy) / wide,
    ],
    0.55,
  );
}

/** The body bends in a wave that runs from head to tail, six beats a circle. */
function drawFish(to: Light, fish: Swimmer, seconds: number): void {
  const { x, y, heading } = pose(fish, seconds);
  const map = spriteMap([140, 60], [x, y], heading, fish.scale);
  const reach = 150 * fish.scale;
  const curve = fish.direction * 0.0016;
  for (let py = Math.max(0, Math.floor(y - reach)); py < Math.min(HEIGHT, y + reach); py++) {
    for (let px = Math.max(0, Math.floor(x - reach)); px < Math.min(WIDTH, x + reach); px++) {
      const u = map[0] * px + map[1] * py + map[2];
      const v = map[3] * px + map[4] * py + map[5];
      const behind = 200 - u;
      const bend =
        curve * (u - 140) ** 2 +
        (behind > 0
          ? (behind / 200) ** 1.6 * 17 * Math.sin(behind / 46 - 6 * TURN * seconds + fish.phase)
          : 0);
      const s = sampleLight(fish.sprite, u, v - bend);
      if (s[3] <= 0) continue;
      const at = (py * WIDTH + px) * 4;
      const keep = 1 - s[3] * 0.94;
      to.data[at] = to.data[at] * keep + s[0] * 0.9;
      to.data[at + 1] = to.data[at + 1] * keep + s[1] * 0.92;
      to.data[at + 2] = to.data[at + 2] * keep + s[2] * 0.92;
    }
  }
}

/** What is under water, seen through its moving surface: bent, with bands of light and a sheen. */
function refract(under: Light, seconds: number, noise: (x: number, y: number, z: number) => number): Light {
  const scene = createLight(WIDTH, HEIGHT);
  const circleX = 1.6 * Math.cos(TURN * seconds);
  const circleY = 1.6 * Math.sin(TURN * seconds);
  for (let y = 0, at = 0; y < HEIGHT; y++) {
    for (let x = 0; x < WIDTH; x++, at += 4) {
      // Moving along a circle through the noise brings the surface back after one period.
      const a = noise(
        (0.8 * x + 0.6 * y) / 95 + circleX * 0.5,
        (0.8 * y - 0.6 * x) / 80 + circleY * 0.5,
        3 + circleX * 0.4,
      );
      const b = noise((x + y) / 62 - circleY * 0.6, (y - x) / 57 + circleX * 0.6, 11 + circleY * 0.4);
      const s = sampleInside(under, x + a * 2.6 + b * 1.2, y + b * 2.2 - a * 1.2);
      const caustic = smoothstep(0.8, 1, 1 - Math.abs(a * 0.8 + b * 0.45)) * 0.22;
      const sheen = 0.035 * smoothstep(0.15, 0.7, a);
      scene.data[at] = s[0] * (0.94 + caustic) + sheen;
      scene.data[at + 1] = s[1] * (0.94 + caustic) + sheen * 1.1;
      scene.data[at + 2] = s[2] * (0.94 + caustic) + sheen * 1.1;
      scene.data[at + 3] = 1;
    }
  }
  return scene;
}

import { handHeld, lightDrift } from '../paint/camera.js';
import {
  addGlow,
  createLight,
  drawLight,
  type Light,
  paintSvg,
  sampleInside,
  spriteMap,
} from '../paint/light.js';
import { mix, smoothstep, valueNoise } from '../paint/random.js';
import { MARGIN, type Scene } from './scene.js';

const WIDTH = 1280 + 2 * MARGIN;
const HEIGHT = 720 + 2 * MARGIN;
const HORIZON = 400;
const PERIOD = 2.4;
const PIVOT: readonly [number, number] = [392, 118];
const TURN = (2 * Math.PI) / PERIOD;

const SKY = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <linearGradient id="sky" x1="0" y1="0" x2="0" y2="1">
      <stop offset="0" stop-color="#2f3358"/><stop offset=".28" stop-color="#5d4a70"/>
      <stop offset=".45" stop-color="#a4647a"/><stop offset=".54" stop-color="#e29a76"/>
      <stop offset=".6" stop-color="#f1bd86"/>
    </linearGradient>
    <linearGradient id="roof" x1="0" y1="0" x2="0" y2="1">
      <stop offset="0" stop-color="#3a3145"/><stop offset="1" stop-color="#231d2c"/>
    </linearGradient>
    <radialGradient id="sun" cx=".72" cy=".56" r=".5">
      <stop offset="0" stop-color="#ffd9a0" stop-opacity=".75"/><stop offset="1" stop-color="#ffd9a0" stop-opacity="0"/>
    </radialGradient>
    <filter id="far" x="-5%" y="-20%" width="110%" height="140%"><feGaussianBlur stdDeviation="3.2"/></filter>
    <filter id="mid" x="-5%" y="-20%" width="110%" height="140%"><feGaussianBlur stdDeviation="1.6"/></filter>
    <filter id="cloud" x="-20%" y="-60%" width="140%" height="220%"><feGaussianBlur stdDeviation="14 5"/></filter>
    <filter id="warm" x="-60%" y="-60%" width="220%" height="220%"><feGaussianBlur stdDeviation="12"/></filter>
  </defs>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#sky)"/>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#sun)"/>
  <g filter="url(#cloud)" opacity=".55">
    <ellipse cx="240" cy="205" rx="220" ry="13" fill="#c87d86"/><ellipse cx="520" cy="248" rx="260" ry="10" fill="#dd9a86"/>
    <ellipse cx="980" cy="176" rx="240" ry="12" fill="#b0708a"/><ellipse cx="1130" cy="270" rx="230" ry="12" fill="#f0b48c"/>
    <ellipse cx="760" cy="120" rx="180" ry="9" fill="#76587e"/>
  </g>
  <g filter="url(#far)">
    <path d="M0 362 Q130 300 250 332 T500 310 T760 330 T1010 296 T1312 340 V402 H0Z" fill="#6d5573"/>
    <path d="M0 380 Q180 340 330 362 T640 350 T900 372 T1312 356 V402 H0Z" fill="#4f4260"/>
  </g>
  <g filter="url(#mid)">
    <path d="M0 392 q30 -22 58 -10 t52 -8 t60 6 t70 -6 t64 10 t90 -4 t80 8 t120 0 H640 V404 H0Z" fill="#332d45"/>
    <path d="M1040 396 q40 -30 84 -16 t76 -10 t112 -14 V404 H1040Z" fill="#332d45"/>
  </g>
  <g>
    <g filter="url(#warm)" opacity=".8"><rect x="846" y="318" width="250" height="66" fill="#f7b45c"/></g>
    <path d="M776 304 C850 292 896 268 968 238 C1040 268 1092 292 1168 304 L1150 316 H794Z" fill="url(#roof)"/>
    <path d="M930 244 C946 232 956 226 968 222 C980 226 992 232 1006 244Z" fill="#2a2333"/>
    <rect x="820" y="314" width="304" height="84" fill="#2c2433"/>
    <g fill="#ffd98a">
      <rect x="838" y="328" width="30" height="52"/><rect x="873" y="328" width="30" height="52"/>
      <rect x="920" y="328" width="30" height="52"/><rect x="955" y="328" width="30" height="52"/>
      <rect x="1002" y="328" width="30" height="52"/><rect x="1037" y="328" width="30" height="52"/>
      <rect x="1080" y="328" width="28" height="52"/>
    </g>
    <g stroke="#6d4530" stroke-width="2">
      ${[853, 888, 935, 970, 1017, 1052, 1094].map((x) => `<path d="M${x} 328v52"/>`).join('')}
      <path d="M838 352h270"/>
    </g>
    <g fill="#1d1825"><rect x="808" y="392" width="330" height="9"/>
      ${[826, 896, 968, 1040, 1114].map((x) => `<rect x="${x}" y="398" width="7" height="16"/>`).join('')}
    </g>
  </g>
</svg>`;

const LANDING = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <linearGradient id="post" x1="0" y1="0" x2="1" y2="0"><stop offset="0" stop-color="#120e17"/><stop offset=".7" stop-color="#33242a"/><stop offset="1" stop-color="#5b3a30"/></linearGradient>
    <linearGradient id="deck" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#3b2a2c"/><stop offset="1" stop-color="#191319"/></linearGradient>
    <filter id="wood" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".012 .22" numOctaves="3" seed="5"/>
      <feColorMatrix values="0 0 0 0 .05  0 0 0 0 .03  0 0 0 0 .03  .9 0 0 0 -.28"/>
      <feComposite in2="SourceAlpha" operator="in"/>
    </filter>
    <radialGradient id="pool" cx=".5" cy=".5" r=".5"><stop offset="0" stop-color="#ffb45e" stop-opacity=".42"/><stop offset="1" stop-color="#ffb45e" stop-opacity="0"/></radialGradient>
  </defs>
  <path d="M-10 668 L560 640 L640 760 L-10 770Z" fill="url(#deck)"/>
  <path d="M-10 668 L560 640 L640 760 L-10 770Z" filter="url(#wood)"/>
  <g stroke="#0e0b10" stroke-width="3" opacity=".8"><path d="M-10 690 L574 661"/><path d="M-10 716 L592 687"/><path d="M-10 745 L612 716"/></g>
  <ellipse cx="330" cy="690" rx="250" ry="52" fill="url(#pool)"/>
  <rect x="232" y="78" width="17" height="600" rx="3" fill="url(#post)"/>
  <rect x="222" y="98" width="196" height="11" rx="4" fill="#2a1c20"/>
  <path d="M246 176 Q252 124 306 108" stroke="#241a1f" stroke-width="8" fill="none"/>
  <path d="M234 78 h13" stroke="#a8643e" stroke-width="3"/>
</svg>`;

const LANTERN = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 270" width="200" height="270">
  <defs>
    <radialGradient id="paper" cx=".5" cy=".52" r=".56">
      <stop offset="0" stop-color="#fff3c8"/><stop offset=".38" stop-color="#ffcf7a"/><stop offset=".75" stop-color="#ee8a40"/><stop offset="1" stop-color="#a8441f"/>
    </radialGradient>
    <clipPath id="body"><ellipse cx="100" cy="148" rx="74" ry="84"/></clipPath>
    <filter id="fibre" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".05 .09" numOctaves="3" seed="11"/>
      <feColorMatrix values="0 0 0 0 .45  0 0 0 0 .16  0 0 0 0 .05  .7 0 0 0 -.26"/>
      <feComposite in2="SourceAlpha" operator="in"/>
    </filter>
    <filter id="soft"><feGaussianBlur stdDeviation=".7"/></filter>
  </defs>
  <path d="M100 0V60" stroke="#1b1416" stroke-width="3.2"/>
  <g filter="url(#soft)">
    <ellipse cx="100" cy="148" rx="74" ry="84" fill="url(#paper)"/>
    <ellipse cx="100" cy="148" rx="74" ry="84" filter="url(#fibre)"/>
    <g clip-path="url(#body)" stroke="#8f3f1c" stroke-opacity=".62" stroke-width="2.2" fill="none">
      ${[-70, -52, -34, -17, 0, 17, 34, 52, 70].map((dy) => `<ellipse cx="100" cy="${148 + dy}" rx="76" ry="7"/>`).join('')}
    </g>
    <path d="M86 96 Q72 148 88 202" stroke="#fff6dc" stroke-opacity=".35" stroke-width="7" fill="none"/>
  </g>
  <rect x="64" y="58" width="72" height="13" rx="4" fill="#1a1315"/><rect x="64" y="226" width="72" height="13" rx="4" fill="#1a1315"/>
  <path d="M100 238V262" stroke="#8c2f1c" stroke-width="5"/><path d="M94 262h12l-2 8h-8z" fill="#a33a20"/>
</svg>`;

const GLOW: readonly [number, number, number] = [0.5, 0.22, 0.07];

/** Waves on the plane of the water: direction, length and how many times they pass in one period. */
const WAVES = [
  { x: 0.9, z: 2.1, turns: 1, phase: 0.3, height: 0.8 },
  { x: -1.7, z: 3.2, turns: 1, phase: 1.9, height: 0.5 },
  { x: 3.1, z: 5.3, turns: 1, phase: 4.1, height: 0.3 },
  { x: -4.6, z: 8.7, turns: 2, phase: 2.2, height: 0.18 },
  { x: 7.3, z: 13.1, turns: 2, phase: 5.5, height: 0.1 },
];

function swing(seconds: number): number {
  return 0.105 * Math.sin(TURN * seconds) + 0.012 * Math.sin(2 * TURN * seconds + 0.7);
}

export function lanternScene(): Scene {
  const sky = paintSvg(SKY, WIDTH);
  const landing = paintSvg(LANDING, WIDTH);
  const lantern = paintSvg(LANTERN, 200);
  const texture = valueNoise(31);
  roughen(sky, texture);

  return {
    name: 'lantern',
    file: 'lantern.mp4',
    width: 1280,
    height: 720,
    framesPerSecond: 30,
    seconds: 8,
    movers: [
      { name: 'lantern', periodSeconds: PERIOD },
      { name: 'water', periodSeconds: PERIOD },
    ],
    camera: handHeld(7, 0.9),
    gain: lightDrift(3, 0.012, 0.0025),
    vignette: 0.3,
    grain: 1.8,
    shutterSamples: 3,
    encoder: [
      '-c:v',
      'libx264',
      '-preset',
      'slow',
      '-crf',
      '22.5',
      '-pix_fmt',
      'yuv420p',
      '-movflags',
      '+faststart',
    ],
    paint(seconds) {
      const scene = createLight(WIDTH, HEIGHT);
      scene.data.set(sky.data);
      const angle = swing(seconds);
      const centre: [number, number] = [PIVOT[0] - Math.sin(angle) * 148, PIVOT[1] + Math.cos(angle) * 148];
      addGlow(scene, centre, 330, GLOW);
      const lanternMap = spriteMap([100, 0], PIVOT, angle);
      drawLight(scene, lantern, lanternMap);
      paintWater(scene, seconds, centre);
      drawLight(scene, landing, [1, 0, 0, 0, 1, 0]);
      drawLight(scene, lantern, lanternMap);
      addGlow(scene, centre, 330, [GLOW[0] * 0.3, GLOW[1] * 0.3, GLOW[2] * 0.3]);
      return scene;
    },
  };
}

/** The water shows the scene above it, mirrored and broken up by the waves, and the lantern's glints. */
function paintWater(scene: Light, seconds: number, lantern: readonly [number, number]): void {
  const { width, height, data } = scene;
  for (let y = HORIZON; y < height; y++) {
    const depth = (y - HORIZON + 3) / (height - HORIZON);
    const far = 1 / depth;
    for (let x = 0; x < width; x++) {
      const px = ((x - width / 2) / width) * far * 2.6;
      let slopeX = 0;
      let slopeZ = 0;
      for (const wave of WAVES) {
        const angle = wave.x * px + wave.z * far * 1.9 + wave.turns * TURN * seconds + wave.phase;
        const slope = wave.height * Math.cos(angle);
        slopeX += slope * Math.sign(wave.x);
        slopeZ += slope;
      }
      const break_ = Math.sqrt(depth);
      const mirroredY = 2 * HORIZON - y + slopeZ * 20 * break_ - 4;
      const s = sampleInside(scene, x + slopeX * 11 * break_, Math.min(HORIZON - 1, Math.max(0, mirroredY)));
      const tilt = 0.5 + 0.5 * Math.tanh(slopeZ * 0.9);
      const mirrored = mix(0.46, 0.64, tilt) * mix(1, 0.62, depth);
      const at = (y * width + x) * 4;
      const glint = Math.exp(-(((x - lantern[0] + slopeX * 34 * break_) / (26 + 60 * depth)) ** 2));
      const sparkle = glint * smoothstep(0.35, 1.5, slopeZ) * smoothstep(0.02, 0.2, depth) * 1.1;
      data[at] = s[0] * mirrored + 0.006 + sparkle * 1.0;
      data[at + 1] = s[1] * mirrored + 0.01 + sparkle * 0.46;
      data[at + 2] = s[2] * mirrored + 0.018 + sparkle * 0.14;
      data[at + 3] = 1;
    }
  }
}

/** A faint unevenness, so that flat tones are not flat. */
function roughen(light: Light, noise: (x: number, y: number, z: number) => number): void {
  for (let y = 0, at = 0; y < light.height; y++) {
    for (let x = 0; x < light.width; x++, at += 4) {
      const k = 1 + 0.035 * noise(x / 23, y / 9, 1) + 0.02 * noise(x / 5, y / 4, 2);
      for (let c = 0; c < 3; c++) light.data[at + c] *= k;
    }
  }
}

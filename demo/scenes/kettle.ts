import { handHeld, lightDrift } from '../paint/camera.js';
import { createLight, drawLight, type Light, paintSvg, spriteMap } from '../paint/light.js';
import { smoothstep, valueNoise } from '../paint/random.js';
import { MARGIN, type Scene } from './scene.js';

const WIDTH = 1280 + 2 * MARGIN;
const HEIGHT = 720 + 2 * MARGIN;
const SPOUT: readonly [number, number] = [582, 372];
const CURTAIN_PERIOD = 3.7;

const ROOM = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <linearGradient id="wall" x1="0" y1="0" x2="1" y2=".35">
      <stop offset="0" stop-color="#f3e7cc"/><stop offset=".4" stop-color="#d9c4a0"/><stop offset="1" stop-color="#8b7050"/>
    </linearGradient>
    <linearGradient id="table" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#6c4a31"/><stop offset="1" stop-color="#3a2618"/></linearGradient>
    <clipPath id="pane"><rect x="-20" y="-20" width="352" height="516"/></clipPath>
    <filter id="plaster" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".018 .024" numOctaves="5" seed="3"/>
      <feColorMatrix values="0 0 0 0 .32  0 0 0 0 .24  0 0 0 0 .14  .55 0 0 0 -.2"/>
    </filter>
    <filter id="grain" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".004 .16" numOctaves="4" seed="9"/>
      <feColorMatrix values="0 0 0 0 .1  0 0 0 0 .05  0 0 0 0 .02  1.1 0 0 0 -.36"/>
      <feComposite in2="SourceAlpha" operator="in"/>
    </filter>
    <filter id="shadow" x="-40%" y="-80%" width="180%" height="260%"><feGaussianBlur stdDeviation="20 7"/></filter>
    <filter id="shade" x="-30%" y="-30%" width="160%" height="160%"><feGaussianBlur stdDeviation="26"/></filter>
    <filter id="far" x="-10%" y="-10%" width="120%" height="120%"><feGaussianBlur stdDeviation="4"/></filter>
  </defs>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#wall)"/>
  <rect width="${WIDTH}" height="${HEIGHT}" filter="url(#plaster)"/>
  <g filter="url(#far)">
    <rect x="-20" y="-20" width="360" height="520" fill="#bfe0ec"/>
    <g clip-path="url(#pane)"><ellipse cx="60" cy="420" rx="150" ry="130" fill="#4f8a4c"/><ellipse cx="240" cy="470" rx="170" ry="120" fill="#7fae4f"/><ellipse cx="290" cy="300" rx="70" ry="90" fill="#3f7350"/><ellipse cx="120" cy="330" rx="60" ry="50" fill="#d8788c"/><ellipse cx="210" cy="395" rx="46" ry="34" fill="#e7a3b0"/></g>
    <rect x="332" y="-20" width="20" height="540" fill="#7a5c3e"/><rect x="150" y="-20" width="12" height="520" fill="#b59a74"/>
    <rect x="-20" y="230" width="360" height="11" fill="#b59a74"/>
    <rect x="-20" y="494" width="392" height="20" fill="#8a6a48"/>
    <rect x="960" y="170" width="300" height="14" fill="#5d432c"/>
    <rect x="990" y="104" width="38" height="66" rx="8" fill="#7d8f82"/><rect x="1042" y="118" width="46" height="52" rx="10" fill="#a6583a"/><rect x="1110" y="96" width="30" height="74" rx="7" fill="#cdbb92"/><rect x="1158" y="124" width="58" height="46" rx="16" fill="#56473c"/>
  </g>
  <path d="M690 566 L1180 300 L1312 380 V620 H700Z" fill="#5b4127" opacity=".3" filter="url(#shade)"/>
  <rect x="-10" y="556" width="${WIDTH + 20}" height="210" fill="url(#table)"/>
  <rect x="-10" y="556" width="${WIDTH + 20}" height="210" filter="url(#grain)"/>
  <rect x="-10" y="554" width="${WIDTH + 20}" height="5" fill="#a67c54" opacity=".8"/>
  <g>
    <path d="M150 610 L520 596 L690 770 H40Z" fill="#2f6f86"/>
    <path d="M208 608 L248 606 L190 770 H120Z" fill="#e9c75a"/><path d="M300 604 L330 603 L330 770 H262Z" fill="#b8423a"/><path d="M388 601 L430 599 L500 770 H410Z" fill="#e9c75a"/><path d="M474 598 L496 597 L640 770 H575Z" fill="#5b2f6b"/>
    <path d="M150 610 L520 596 L690 770 H40Z" filter="url(#grain)" opacity=".5"/>
  </g>
  <ellipse cx="1130" cy="634" rx="130" ry="20" fill="#120b07" opacity=".7" filter="url(#shadow)"/>
  <ellipse cx="840" cy="632" rx="270" ry="26" fill="#120b07" opacity=".75" filter="url(#shadow)"/>
  <ellipse cx="395" cy="650" rx="86" ry="13" fill="#120b07" opacity=".6" filter="url(#shadow)"/>
</svg>`;

const KETTLE = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <radialGradient id="iron" cx=".33" cy=".3" r=".85"><stop offset="0" stop-color="#7ea59b"/><stop offset=".28" stop-color="#3f6660"/><stop offset=".7" stop-color="#223f3c"/><stop offset="1" stop-color="#101f1e"/></radialGradient>
    <linearGradient id="spout" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#6d948a"/><stop offset=".5" stop-color="#2b4c47"/><stop offset="1" stop-color="#142725"/></linearGradient>
    <radialGradient id="persimmon" cx=".35" cy=".3" r=".8"><stop offset="0" stop-color="#ffc27a"/><stop offset=".4" stop-color="#f07f2c"/><stop offset="1" stop-color="#8f3512"/></radialGradient>
    <radialGradient id="pear" cx=".35" cy=".3" r=".8"><stop offset="0" stop-color="#e9f0a0"/><stop offset=".45" stop-color="#a4bf3e"/><stop offset="1" stop-color="#4b6a1c"/></radialGradient>
    <radialGradient id="plum" cx=".35" cy=".3" r=".8"><stop offset="0" stop-color="#c79be0"/><stop offset=".4" stop-color="#6d3f8f"/><stop offset="1" stop-color="#2a1442"/></radialGradient>
    <linearGradient id="cup" x1="0" y1="0" x2="1" y2="0"><stop offset="0" stop-color="#f6eedd"/><stop offset=".55" stop-color="#d3c2a2"/><stop offset="1" stop-color="#8d7a5c"/></linearGradient>
    <filter id="cast" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".09" numOctaves="3" seed="21"/>
      <feColorMatrix values="0 0 0 0 .03  0 0 0 0 .08  0 0 0 0 .08  .8 0 0 0 -.3"/>
      <feComposite in2="SourceAlpha" operator="in"/>
    </filter>
    <filter id="shine" x="-40%" y="-40%" width="180%" height="180%"><feGaussianBlur stdDeviation="7"/></filter>
    <filter id="edge"><feGaussianBlur stdDeviation=".6"/></filter>
  </defs>
  <g filter="url(#edge)">
    <path d="M706 410 C690 210 980 196 990 404" fill="none" stroke="#122321" stroke-width="20" stroke-linecap="round"/>
    <path d="M704 406 C690 214 960 190 984 384" fill="none" stroke="#56807a" stroke-width="4" stroke-linecap="round" opacity=".7"/>
    <path d="M700 572 C640 560 650 470 572 382 L600 362 C660 404 690 430 726 440Z" fill="url(#spout)"/>
    <ellipse cx="585" cy="373" rx="18" ry="9" transform="rotate(-36 585 373)" fill="#0c1716"/>
    <path d="M656 520 C650 418 742 392 846 392 C956 392 1042 424 1036 522 C1032 584 976 626 846 626 C722 626 662 588 656 520Z" fill="url(#iron)"/>
    <path d="M656 520 C650 418 742 392 846 392 C956 392 1042 424 1036 522 C1032 584 976 626 846 626 C722 626 662 588 656 520Z" filter="url(#cast)"/>
    <ellipse cx="846" cy="398" rx="108" ry="17" fill="#1a312e"/><ellipse cx="846" cy="391" rx="100" ry="15" fill="#375a55"/>
    <ellipse cx="846" cy="370" rx="17" ry="15" fill="#a05a34"/><ellipse cx="841" cy="365" rx="6" ry="5" fill="#eab98a"/>
    <ellipse cx="742" cy="452" rx="34" ry="52" transform="rotate(24 742 452)" fill="#d8efe6" opacity=".42" filter="url(#shine)"/>
    <path d="M690 590 C760 616 920 620 1000 590" stroke="#0b1514" stroke-width="7" opacity=".6" fill="none"/>
  </g>
  <g filter="url(#edge)">
    <path d="M1150 520 C1134 548 1112 566 1118 604 C1124 640 1190 640 1196 604 C1202 566 1176 548 1168 518Z" fill="url(#pear)"/><path d="M1159 520 q2 -20 14 -30" stroke="#4a321c" stroke-width="4" fill="none"/>
    <ellipse cx="1092" cy="604" rx="42" ry="35" fill="url(#persimmon)"/><path d="M1074 572 q18 12 36 0 q-6 10 -18 11 q-12 -1 -18 -11Z" fill="#5e7a34"/>
    <ellipse cx="1216" cy="614" rx="30" ry="27" fill="url(#plum)"/>
  </g>
  <g filter="url(#edge)">
    <path d="M330 572 H462 C462 626 446 652 396 652 C346 652 330 626 330 572Z" fill="url(#cup)"/>
    <ellipse cx="396" cy="572" rx="66" ry="14" fill="#efe4cc"/><ellipse cx="396" cy="574" rx="57" ry="10" fill="#7c5a2c"/>
    <path d="M338 604 q58 14 118 0" stroke="#b5623e" stroke-width="5" fill="none" opacity=".8"/>
  </g>
</svg>`;

const CURTAIN = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 380 600" width="380" height="600">
  <defs>
    <linearGradient id="fold" x1="0" y1="0" x2="1" y2="0">
      ${Array.from({ length: 15 }, (_, i) => `<stop offset="${i / 14}" stop-color="${i % 2 ? '#cfc2a6' : '#f7efdd'}" stop-opacity="${i % 2 ? 0.93 : 0.8}"/>`).join('')}
    </linearGradient>
    <filter id="b" x="-5%" y="-5%" width="110%" height="110%"><feGaussianBlur stdDeviation="2.6"/></filter>
    <filter id="weave" x="0" y="0" width="100%" height="100%">
      <feTurbulence type="fractalNoise" baseFrequency=".3 .02" numOctaves="2" seed="2"/>
      <feColorMatrix values="0 0 0 0 .4  0 0 0 0 .33  0 0 0 0 .22  .5 0 0 0 -.2"/>
      <feComposite in2="SourceAlpha" operator="in"/>
    </filter>
  </defs>
  <g filter="url(#b)"><path d="M20 0H330Q344 300 350 560 Q190 590 30 560Z" fill="url(#fold)"/><path d="M20 0H330Q344 300 350 560 Q190 590 30 560Z" filter="url(#weave)"/></g>
</svg>`;

export function kettleScene(): Scene {
  const room = paintSvg(ROOM, WIDTH);
  const kettle = paintSvg(KETTLE, WIDTH);
  const curtain = paintSvg(CURTAIN, 380);
  const noise = valueNoise(17);

  return {
    name: 'kettle',
    file: 'kettle.mov',
    width: 1280,
    height: 720,
    framesPerSecond: 25,
    seconds: 10,
    movers: [
      { name: 'steam', periodSeconds: null },
      { name: 'curtain', periodSeconds: CURTAIN_PERIOD },
    ],
    camera: handHeld(19, 0.35),
    gain: lightDrift(11, 0.02, 0.012),
    vignette: 0.34,
    grain: 2,
    shutterSamples: 2,
    encoder: ['-c:v', 'libx264', '-preset', 'slow', '-crf', '23', '-pix_fmt', 'yuv420p'],
    paint(seconds) {
      const scene = createLight(WIDTH, HEIGHT);
      scene.data.set(room.data);
      const sway = Math.sin((2 * Math.PI * seconds) / CURTAIN_PERIOD);
      const map = spriteMap([190, 0], [176, -16], 0.012 * sway);
      drawLight(scene, curtain, [map[0], map[1] + 0.01 * sway, map[2], map[3], map[4], map[5]]);
      drawLight(scene, kettle, [1, 0, 0, 0, 1, 0]);
      paintSteam(scene, seconds, noise);
      return scene;
    },
  };
}

/** Steam rises from the spout, spreads, curls and thins out. */
function paintSteam(scene: Light, seconds: number, noise: (x: number, y: number, z: number) => number): void {
  const { width, data } = scene;
  for (let y = 0; y < SPOUT[1] + 6; y++) {
    const rise = SPOUT[1] + 6 - y;
    const lean =
      -rise * 0.16 + 26 * noise(rise / 120 - seconds * 0.85, 3.1, seconds * 0.3) * Math.min(1, rise / 130);
    const spread = 13 + rise * 0.27;
    const left = Math.max(0, Math.floor(SPOUT[0] - 4 + lean - spread * 2));
    const right = Math.min(width, Math.ceil(SPOUT[0] - 4 + lean + spread * 2));
    const fade = smoothstep(0, 26, rise) * (1 - smoothstep(190, 376, rise));
    if (fade <= 0) continue;
    for (let x = left; x < right; x++) {
      const across = (x - SPOUT[0] + 4 - lean) / spread;
      const u = x / 62;
      const v = y / 74 + seconds * 1.75;
      const warpX = 0.75 * noise(u * 0.8, v * 0.8, seconds * 0.45 + 9);
      const body =
        0.6 * noise(u + warpX, v, seconds * 0.5) +
        0.3 * noise(u * 2.1 + warpX * 2, v * 2.0, seconds * 0.9 + 4) +
        0.15 * noise(u * 4.3, v * 4.1, seconds * 1.4 + 7);
      const density = Math.exp(-across * across * 1.5) * fade * smoothstep(-0.42, 0.5, body) * 0.92;
      if (density <= 0.002) continue;
      const at = (y * width + x) * 4;
      data[at] += (0.93 - data[at]) * density;
      data[at + 1] += (0.92 - data[at + 1]) * density;
      data[at + 2] += (0.88 - data[at + 2]) * density;
    }
  }
}

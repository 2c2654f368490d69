import { handHeld, lightDrift } from '../paint/camera.js';
import { createLight, drawLight, type Light, paintSvg, spriteMap } from '../paint/light.js';
import { MARGIN, type Scene } from './scene.js';

const WIDTH = 540 + 2 * MARGIN;
const HEIGHT = 960 + 2 * MARGIN;
const PERIOD = 1.5;

const YARD = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}">
  <defs>
    <linearGradient id="air" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#cfe3d6"/><stop offset=".6" stop-color="#a9c9a6"/><stop offset="1" stop-color="#5f7f56"/></linearGradient>
    <filter id="far"><feGaussianBlur stdDeviation="14"/></filter>
    <filter id="grit" x="0" y="0" width="100%" height="100%"><feTurbulence type="fractalNoise" baseFrequency=".35" numOctaves="2" seed="4"/><feColorMatrix values="0 0 0 0 .1 0 0 0 0 .1 0 0 0 0 .08 .5 0 0 0 -.2"/><feComposite in2="SourceAlpha" operator="in"/></filter>
  </defs>
  <rect width="${WIDTH}" height="${HEIGHT}" fill="url(#air)"/>
  <g filter="url(#far)">
    <ellipse cx="90" cy="240" rx="150" ry="210" fill="#6f9a64"/><ellipse cx="470" cy="330" rx="170" ry="240" fill="#84ad74"/>
    <ellipse cx="280" cy="560" rx="240" ry="120" fill="#5d8a58"/><circle cx="400" cy="120" r="70" fill="#f2f0c8"/>
  </g>
  <path d="M0 730Q150 700 300 722T572 712V992H0Z" fill="#8b8574"/><path d="M0 730Q150 700 300 722T572 712V992H0Z" filter="url(#grit)"/>
  <g><ellipse cx="286" cy="828" rx="150" ry="46" fill="#55524a"/><ellipse cx="286" cy="818" rx="136" ry="37" fill="#2d4a4d"/><ellipse cx="250" cy="810" rx="70" ry="14" fill="#7fa7a4" opacity=".5"/></g>
  <path d="M60 0h26l10 300l-12 6Z" fill="#6b4a2c"/><path d="M20 96C180 120 360 96 556 60" stroke="#5b3d22" stroke-width="15" fill="none" stroke-linecap="round"/>
</svg>`;

const CHIME = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 240 460" width="240" height="460">
  <defs><linearGradient id="g" x1="0" y1="0" x2="1" y2="0"><stop offset="0" stop-color="#16423f"/><stop offset=".45" stop-color="#4fae98"/><stop offset="1" stop-color="#123432"/></linearGradient></defs>
  <path d="M120 0V96" stroke="#2c1f14" stroke-width="4"/><path d="M52 170c0-50 30-78 68-78s68 28 68 78c-16 12-120 12-136 0Z" fill="url(#g)"/>
  <path d="M52 170q68 20 136 0" stroke="#0d2220" stroke-width="5" fill="none"/><circle cx="96" cy="132" r="11" fill="#e8f6f0" opacity=".55"/>
</svg>`;

const TAG = `
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 260" width="120" height="260">
  <path d="M60 0V70" stroke="#2c1f14" stroke-width="3"/><circle cx="60" cy="30" r="12" fill="#d9a425"/>
  <rect x="28" y="70" width="64" height="176" rx="5" fill="#f6ead5"/><path d="M44 96h32M44 116h32M44 136h24" stroke="#b8512b" stroke-width="6"/><circle cx="60" cy="206" r="16" fill="#e0662f"/>
</svg>`;

/** A wind bell in a yard, filmed upright by a phone that stores its pictures lying. */
export function sidewaysScene(): Scene {
  const yard = paintSvg(YARD, WIDTH);
  const chime = paintSvg(CHIME, 240);
  const tag = paintSvg(TAG, 120);
  return {
    name: 'sideways',
    file: 'sideways.mp4',
    width: 540,
    height: 960,
    framesPerSecond: 60,
    seconds: 3,
    movers: [{ name: 'bell', periodSeconds: PERIOD }],
    camera: handHeld(31, 0.5),
    gain: lightDrift(23, 0.015, 0.004),
    vignette: 0.28,
    grain: 2.2,
    shutterSamples: 2,
    storedTurned: true,
    encoder: [...['-c:v', 'libx264', '-preset', 'slow', '-crf', '20', '-pix_fmt', 'yuv420p', '-bf', '2']],
    paint(seconds): Light {
      const scene = createLight(WIDTH, HEIGHT);
      scene.data.set(yard.data);
      const swing = 0.1 * Math.sin((2 * Math.PI * seconds) / PERIOD);
      const lag = 0.26 * Math.sin((2 * Math.PI * seconds) / PERIOD - 0.7);
      drawLight(scene, chime, spriteMap([120, 0], [300, 92], swing));
      const [x, y] = [300 - Math.sin(swing) * 176, 92 + Math.cos(swing) * 176];
      drawLight(scene, tag, spriteMap([60, 0], [x, y], lag));
      return scene;
    },
  };
}

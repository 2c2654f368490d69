import { join } from 'node:path';
import sharp from 'sharp';
import { pipeFrames } from '../pipe-frames.js';
import { type Drawing, draw, heading, straight, words } from './draw.js';

const BADGE = 240;
const BADGE_FRAMES = 30;

function badgeFrame(turn: number): Drawing {
  const c = BADGE / 2;
  const petals = Array.from(
    { length: 12 },
    (_, i) =>
      `<ellipse cx="${c}" cy="34" rx="17" ry="26" fill="#1f8a70" transform="rotate(${i * 30 + turn * 30} ${c} ${c})"/>`,
  ).join('');
  const rise = (offset: number) => {
    const phase = (turn + offset) % 1;
    return `<path d="M${104 + offset * 30} ${104 - phase * 26}q8 -10 0 -20t0 -18" stroke="#fbfcf9" stroke-width="5" stroke-linecap="round" fill="none" opacity="${Math.sin(Math.PI * phase)}"/>`;
  };
  return draw(
    BADGE,
    BADGE,
    `${petals}<circle cx="${c}" cy="${c}" r="82" fill="#16302e"/><circle cx="${c}" cy="${c}" r="73" fill="none" stroke="#d9a425" stroke-width="3"/>
     ${rise(0)}${rise(0.5)}<path d="M84 112h62c0 34-12 48-31 48s-31-14-31-48Z" fill="#e0662f"/><path d="M146 120c20-3 20 26-5 25" fill="none" stroke="#e0662f" stroke-width="6"/>
     ${words(c, 182, 14, '#f6ead5', 'Osier Lane', 'text-anchor="middle" font-weight="600"')}`,
  );
}

/** An animated badge that can be seen through around its rim (APNG). */
export async function makeBadge(out: string): Promise<void> {
  await pipeFrames({
    width: BADGE,
    height: BADGE,
    framesPerSecond: 15,
    pixelFormat: 'rgba',
    output: ['-f', 'apng', '-plays', '0', '-pred', 'mixed', join(out, 'badge.png')],
    frames: (function* () {
      for (let i = 0; i < BADGE_FRAMES; i++) yield straight(badgeFrame(i / BADGE_FRAMES));
    })(),
  });
}

/** An earlier GIF, with the uneven delays of its time and one that was left over. */
export async function makeOldLoop(out: string): Promise<void> {
  const delaysMs = [80, 80, 120, 80, 70, 130, 80, 80, 250, 80, 80, 90, 110, 80, 80, 600];
  const frames = delaysMs.map((_, i) => {
    const t = i / delaysMs.length;
    const sway = Math.sin(2 * Math.PI * t) * 9;
    const fish = (x: number, y: number, size: number, colour: string, phase: number) => {
      const wag = Math.sin(2 * Math.PI * (t * 2 + phase)) * 6;
      return `<g transform="translate(${x} ${y + Math.sin(2 * Math.PI * (t + phase)) * 8}) rotate(${wag / 2})"><path d="M${-size} 0C${-size * 0.4} ${-size * 0.46} ${size * 0.5} ${-size * 0.36} ${size} 0C${size * 0.5} ${size * 0.36} ${-size * 0.4} ${size * 0.46} ${-size} 0Z" fill="${colour}"/>
        <path d="M${-size * 0.9} 0l${-size * 0.6} ${-size * 0.4 + wag}l${size * 0.12} ${size * 0.4}l${-size * 0.12} ${size * 0.4 + wag}Z" fill="${colour}"/><circle cx="${size * 0.62}" cy="${-size * 0.08}" r="3" fill="#16302e"/></g>`;
    };
    return draw(
      320,
      220,
      `<rect width="320" height="220" fill="#dcefe7"/><path d="M160 20V214" stroke="#8a6238" stroke-width="6"/>
       <g transform="rotate(${sway / 3} 160 30)">${fish(236, 62, 58, '#16302e', 0)}${fish(228, 116, 46, '#e0662f', 0.2)}${fish(220, 164, 36, '#d9a425', 0.4)}</g>
       ${heading(18, 58, 26, '#16302e', 'Boat day')}${words(18, 82, 14, '#3d5551', 'fifth of May')}`,
    );
  });
  const pages = await Promise.all(
    frames.map((frame) =>
      sharp(straight(frame), { raw: { width: frame.width, height: frame.height, channels: 4 } })
        .png()
        .toBuffer(),
    ),
  );
  await sharp(pages, { join: { animated: true } })
    .gif({ delay: delaysMs, loop: 0, colours: 96, effort: 7 })
    .toFile(join(out, 'old loop.gif'));
}

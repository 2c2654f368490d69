import { join } from 'node:path';
import sharp from 'sharp';
import { type Drawing, draw, heading, straight, words } from './draw.js';

const INK = '#16302e';
const CREAM = '#f6ead5';

const picture = (drawing: Drawing) =>
  sharp(straight(drawing), {
    raw: { width: drawing.width, height: drawing.height, channels: 4 },
  }).removeAlpha();

/** Three panels of one size for an advertising slot: the autumn menu of Osier Lane Tea House. */
export async function makePanels(out: string): Promise<void> {
  const panels = [
    `<rect width="336" height="280" fill="${CREAM}"/><rect width="336" height="34" fill="#b8512b"/>
     ${heading(32, 96, 44, INK, 'Autumn')}${heading(32, 134, 44, INK, 'menu')}
     <circle cx="236" cy="196" r="62" fill="#d9a425"/><path d="M82 252C110 206 168 182 212 170C196 208 150 246 82 252Z" fill="#7c8f45"/>
     <path d="M88 248C130 226 170 200 206 174" stroke="#5c6f2c" stroke-width="3" fill="none"/>${words(32, 23, 14, '#fbe6da', 'Osier Lane Tea House')}`,
    `<rect width="336" height="280" fill="#dcefe7"/>${heading(28, 58, 30, INK, 'Chestnut cloud')}${words(28, 84, 15, '#3d5551', 'roast tea, chestnut cream')}
     <path d="M108 140h128c0 74-22 104-64 104s-64-30-64-104Z" fill="#fbfcf9" stroke="${INK}" stroke-width="4"/>
     <ellipse cx="172" cy="140" rx="64" ry="16" fill="#c9935a" stroke="${INK}" stroke-width="4"/><ellipse cx="162" cy="138" rx="34" ry="8" fill="#f3e3c8"/>
     <path d="M236 158c40-6 40 58-10 54" fill="none" stroke="${INK}" stroke-width="7"/><circle cx="276" cy="238" r="20" fill="#6f3d20"/><circle cx="302" cy="246" r="14" fill="#8a512c"/>`,
    `<rect width="336" height="280" fill="${INK}"/>${heading(28, 74, 34, CREAM, 'From the first')}${heading(28, 110, 34, '#e0662f', 'of October')}
     ${words(28, 142, 15, '#b9cbc5', 'by the pond, ten to six')}<rect x="28" y="206" width="142" height="40" rx="20" fill="#e0662f"/>
     ${words(52, 232, 17, '#ffffff', 'Keep a table', 'font-weight="600"')}<ellipse cx="262" cy="226" rx="46" ry="14" fill="none" stroke="#1f8a70" stroke-width="3"/>
     <ellipse cx="262" cy="226" rx="26" ry="8" fill="none" stroke="#1f8a70" stroke-width="3"/><ellipse cx="262" cy="226" rx="9" ry="4" fill="#d9a425"/>`,
  ];
  for (const [i, body] of panels.entries()) {
    await picture(draw(336, 280, body))
      .png({ palette: true })
      .toFile(join(out, `autumn menu ${i + 1}.png`));
  }
}

interface Stall {
  readonly name: string;
  readonly awning: readonly [string, string];
  readonly goods: string;
}

const STALLS: readonly Stall[] = [
  { name: 'Tea', awning: ['#1f8a70', '#dcefe7'], goods: '#7c5a2c' },
  { name: 'Plums', awning: ['#6d3f8f', '#efe2f6'], goods: '#4b2468' },
  { name: 'Persimmons', awning: ['#e0662f', '#fbe6da'], goods: '#f07f2c' },
  { name: 'Cups', awning: ['#2d5f8a', '#dde9f3'], goods: '#d3c2a2' },
  { name: 'Lanterns', awning: ['#b8512b', '#f6ead5'], goods: '#ffc27a' },
];

function stall({ name, awning, goods }: Stall, width: number, height: number): string {
  const w = width;
  const h = height;
  const stripes = Array.from(
    { length: 8 },
    (_, i) =>
      `<path d="M${w * (0.1 + i * 0.1)} ${h * 0.22}h${w * 0.1}l${w * 0.012} ${h * 0.14}q${-w * 0.056} ${h * 0.05} ${-w * 0.112} 0Z" fill="${awning[i % 2]}"/>`,
  ).join('');
  const heap = Array.from({ length: 18 }, (_, i) => {
    const row = i < 8 ? 0 : i < 14 ? 1 : 2;
    const place = i - [0, 8, 14][row];
    const r = Math.min(w, h) * 0.045;
    return `<circle cx="${w / 2 + (place - (7 - row * 2) / 2) * r * 1.9}" cy="${h * 0.66 - row * r * 1.5}" r="${r}" fill="${goods}" stroke="#00000033" stroke-width="2"/>`;
  }).join('');
  return `<defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#bcd6dc"/><stop offset="1" stop-color="#eef2ec"/></linearGradient></defs>
    <rect width="${w}" height="${h}" fill="url(#s)"/><rect y="${h * 0.82}" width="${w}" height="${h * 0.18}" fill="#a9b3a2"/>
    <rect x="${w * 0.12}" y="${h * 0.26}" width="${w * 0.02}" height="${h * 0.58}" fill="#5b4028"/><rect x="${w * 0.86}" y="${h * 0.26}" width="${w * 0.02}" height="${h * 0.58}" fill="#5b4028"/>
    ${heap}<rect x="${w * 0.08}" y="${h * 0.69}" width="${w * 0.84}" height="${h * 0.17}" rx="6" fill="#8a6238"/><rect x="${w * 0.08}" y="${h * 0.69}" width="${w * 0.84}" height="${h * 0.03}" fill="#a67a4a"/>
    ${stripes}<rect x="${w * 0.09}" y="${h * 0.17}" width="${w * 0.82}" height="${h * 0.06}" rx="4" fill="#3a2a1c"/>
    ${heading(w / 2, h * 0.8, Math.min(w, h) * 0.075, '#f6ead5', name, 'text-anchor="middle"')}`;
}

/** Five pictures of market stalls, of different sizes and kinds, as people collect them. */
export async function makeStalls(out: string): Promise<void> {
  const sizes = [
    [900, 600],
    [600, 800],
    [1024, 576],
    [700, 700],
    [480, 640],
  ];
  for (const [i, one] of STALLS.entries()) {
    const [width, height] = sizes[i];
    const drawn = picture(draw(width, height, stall(one, width, height)));
    const file = join(out, `market stall ${i + 1}`);
    if (i === 2) await drawn.webp({ quality: 86 }).toFile(`${file}.webp`);
    else if (i === 3) await drawn.png({ palette: true }).toFile(`${file}.png`);
    // One as a phone stores it: lying, with a note on how to turn it.
    else if (i === 1)
      await drawn.rotate(270).withMetadata({ orientation: 6 }).jpeg({ quality: 86 }).toFile(`${file}.jpg`);
    else await drawn.jpeg({ quality: 86 }).toFile(`${file}.jpg`);
  }
}

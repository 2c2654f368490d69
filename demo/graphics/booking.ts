import { join } from 'node:path';
import { pipeFrames } from '../pipe-frames.js';
import { type Drawing, draw, heading, layOver, words } from './draw.js';

const WIDTH = 1440;
const HEIGHT = 900;
const RATE = 30;
const SECONDS = 24;
const NAME = 'Wren Alder';

/** What the page shows at one moment. */
interface PageState {
  readonly day: number | null;
  readonly time: string | null;
  readonly typed: number;
  readonly focus: boolean;
  readonly sent: boolean;
}

/** Where the pointer rests and when, s; between them it moves as a hand does. */
const PATH: readonly (readonly [seconds: number, x: number, y: number])[] = [
  [0, 1180, 760],
  [1.6, 1180, 760],
  [3, 494, 486],
  [4.4, 494, 486],
  [5.8, 930, 372],
  [7.2, 930, 372],
  [8.6, 960, 500],
  [13.6, 960, 500],
  [15.2, 1010, 636],
  [17.2, 1010, 636],
  [19, 1240, 250],
  [24, 1240, 250],
];

function stateAt(seconds: number): PageState {
  return {
    day: seconds >= 3.6 ? 17 : null,
    time: seconds >= 6.4 ? '15:30' : null,
    focus: seconds >= 9.2 && seconds < 15.6,
    typed: Math.max(0, Math.min(NAME.length, Math.floor((seconds - 9.8) / 0.3))),
    sent: seconds >= 15.8,
  };
}

function page({ day, time, typed, focus, sent }: PageState): string {
  const days = Array.from({ length: 31 }, (_, i) => {
    const column = (i + 3) % 7;
    const row = Math.floor((i + 3) / 7);
    const x = 236 + column * 86;
    const y = 330 + row * 78;
    const isChosen = day === i + 1;
    return `<rect x="${x - 32}" y="${y - 32}" width="64" height="64" rx="32" fill="${isChosen ? '#1f8a70' : '#fff'}" stroke="#d5ded4"/>
      ${words(x, y + 7, 20, isChosen ? '#fff' : '#16302e', String(i + 1), 'text-anchor="middle"')}`;
  }).join('');
  const times = ['10:00', '12:30', '14:00', '15:30', '17:00']
    .map((label, i) => {
      const x = 880 + (i % 3) * 158;
      const y = 280 + Math.floor(i / 3) * 72 + (i > 2 ? 0 : 0);
      const isChosen = time === label;
      return `<rect x="${x}" y="${y}" width="140" height="52" rx="12" fill="${isChosen ? '#16302e' : '#fff'}" stroke="#d5ded4"/>${words(x + 70, y + 33, 20, isChosen ? '#fff' : '#16302e', label, 'text-anchor="middle"')}`;
    })
    .join('');
  const name = NAME.slice(0, typed);
  return `<rect width="${WIDTH}" height="${HEIGHT}" fill="#eef2ec"/><rect width="${WIDTH}" height="86" fill="#fbfcf9"/><path d="M0 86H${WIDTH}" stroke="#d5ded4"/>
    ${heading(72, 56, 30, '#16302e', 'Osier Lane Tea House')}${words(1130, 54, 19, '#5b716c', 'Menu')}${words(1214, 54, 19, '#5b716c', 'Visit')}${words(1296, 54, 19, '#1f8a70', 'Keep a table', 'font-weight="600"')}
    ${heading(72, 172, 44, '#16302e', 'Keep a table by the pond')}${words(72, 210, 20, '#5b716c', 'October, two to six guests')}
    <rect x="160" y="250" width="660" height="560" rx="22" fill="#fbfcf9" stroke="#d5ded4"/>${days}
    ${words(880, 262, 18, '#5b716c', 'Time', 'font-weight="600"')}${times}
    ${words(880, 456, 18, '#5b716c', 'Name', 'font-weight="600"')}<rect x="880" y="472" width="456" height="56" rx="12" fill="#fff" stroke="${focus ? '#1f8a70' : '#d5ded4'}" stroke-width="${focus ? 3 : 1}"/>
    ${words(900, 507, 21, '#16302e', name)}${focus ? `<rect x="${902 + name.length * 11.2}" y="486" width="2" height="28" fill="#1f8a70"/>` : ''}
    <rect x="880" y="604" width="260" height="64" rx="16" fill="${sent ? '#dcefe7' : '#16302e'}"/>
    ${words(1010, 643, 21, sent ? '#197560' : '#fff', sent ? 'Kept for you' : 'Keep the table', 'text-anchor="middle" font-weight="600"')}
    ${sent ? `<rect x="880" y="700" width="456" height="92" rx="16" fill="#fff" stroke="#1f8a70" stroke-width="2"/>${words(906, 738, 19, '#16302e', `${NAME}, 17 October, 15:30`, 'font-weight="600"')}${words(906, 768, 18, '#5b716c', 'Table 4, under the willow')}` : ''}`;
}

function pointerAt(seconds: number): readonly [number, number] {
  const next = PATH.findIndex(([at]) => at > seconds);
  if (next < 0) return [PATH[PATH.length - 1][1], PATH[PATH.length - 1][2]];
  const [fromAt, fromX, fromY] = PATH[next - 1];
  const [toAt, toX, toY] = PATH[next];
  const t = (seconds - fromAt) / (toAt - fromAt);
  const eased = t * t * t * (10 + t * (6 * t - 15));
  // A hand moves along a slight bow.
  const bow = Math.sin(Math.PI * eased) * Math.min(30, Math.hypot(toX - fromX, toY - fromY) * 0.06);
  return [fromX + (toX - fromX) * eased, fromY + (toY - fromY) * eased - bow];
}

/** A made-up booking page, used with a pointer: what screen recordings look like. */
export async function makeBooking(out: string): Promise<void> {
  const pointer = draw(
    30,
    40,
    '<path d="M3 3V31L10 24.5L15 36L20.5 33.6L15.6 22.4H25Z" fill="#16302e" stroke="#fff" stroke-width="2.4"/>',
  );
  let drawn: { key: string; picture: Drawing } | null = null;
  const frameAt = (frame: number): Buffer => {
    const seconds = frame / RATE;
    const state = stateAt(seconds);
    const key = JSON.stringify(state);
    if (drawn?.key !== key) drawn = { key, picture: draw(WIDTH, HEIGHT, page(state)) };
    const shown = { ...drawn.picture, pixels: Buffer.from(drawn.picture.pixels) };
    const [x, y] = pointerAt(seconds);
    layOver(shown, pointer, Math.round(x), Math.round(y));
    return shown.pixels;
  };
  await pipeFrames({
    width: WIDTH,
    height: HEIGHT,
    framesPerSecond: RATE,
    pixelFormat: 'rgba',
    output: [
      ...['-vf', 'scale=out_color_matrix=bt709:out_range=tv', '-colorspace', 'bt709', '-color_range', 'tv'],
      ...[
        '-c:v',
        'libx264',
        '-preset',
        'slow',
        '-crf',
        '21',
        '-pix_fmt',
        'yuv420p',
        '-movflags',
        '+faststart',
      ],
      ...['-fflags', '+bitexact', '-flags:v', '+bitexact', join(out, 'booking.mp4')],
    ],
    frames: (function* () {
      for (let frame = 0; frame < RATE * SECONDS; frame++) yield frameAt(frame);
    })(),
  });
}

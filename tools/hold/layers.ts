import { existsSync, readFileSync } from 'node:fs';
import type { BenchRow } from '../../bench/table.js';
import type { LayerKind, LayerView } from '../../packages/core/src/api/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { ask } from './asking.js';
import { mutate } from './mutate.js';
import { type Shot, underFire } from './under-fire.js';

const FONTS = ['hebrew', 'thai', 'round-head', 'western'];
/** A font that once ended a whole server; it is not part of the project. */
const DAMAGED = new URL('../../../shared/inputs/damaged-font.ttf', import.meta.url);

const DRAWING = Buffer.from(`<?xml version="1.0"?>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120" height="80" viewBox="0 0 120 80">
<defs><linearGradient id="g" x1="0" x2="1"><stop offset="0" stop-color="#1f8a70"/><stop offset="1" stop-color="#e0662f"/></linearGradient>
<pattern id="p" width="8" height="8" patternUnits="userSpaceOnUse"><circle cx="4" cy="4" r="2" fill="url(#g)"/></pattern>
<filter id="f"><feGaussianBlur stdDeviation="2"/><feTurbulence baseFrequency="0.1" numOctaves="2"/></filter>
<clipPath id="c"><rect width="60" height="60"/></clipPath><mask id="m"><rect width="120" height="80" fill="url(#g)"/></mask></defs>
<g clip-path="url(#c)" mask="url(#m)" transform="rotate(12) scale(1.2)"><path d="M0 0C10 20 30 40 50 5S90 60 118 78z" fill="url(#p)" filter="url(#f)"/></g>
<use xlink:href="#c"/><text x="4" y="40" font-size="20">Osier</text><ellipse cx="60" cy="40" rx="30" ry="12" stroke="#000" stroke-dasharray="4 2"/></svg>`);

const TABLE = Buffer.from(
  [
    'TITLE "Evening"',
    'LUT_3D_SIZE 4',
    'DOMAIN_MIN 0 0 0',
    'DOMAIN_MAX 1 1 1',
    ...Array.from({ length: 64 }, (_, i) =>
      [i & 3, (i >> 2) & 3, i >> 4].map((c) => (c / 3).toFixed(5)).join(' '),
    ),
  ].join('\n'),
);

/** A font with bytes of its tables changed: those of a table's head and counts more often than others. */
function mutateFont(font: Buffer, other: Buffer, random: () => number): Buffer {
  if (random() < 0.3) return mutate(font, other, random);
  const made = Buffer.from(font);
  const tables = made.readUInt16BE(4);
  for (let change = 0; change < 1 + random() * 4; change++) {
    const entry = 12 + 16 * wholeFrom(random, 0, tables - 1);
    const [offset, length] = [made.readUInt32BE(entry + 8), made.readUInt32BE(entry + 12)];
    const reach = random() < 0.6 ? Math.min(64, length) : length;
    const at = Math.min(made.length - 4, offset + wholeFrom(random, 0, Math.max(0, reach - 4)));
    if (at < 0) continue;
    if (random() < 0.5)
      made.writeUInt32BE([0, 0xffff_ffff, 0x7fff_ffff, 0xffff][wholeFrom(random, 0, 3)], at);
    else made[at] = wholeFrom(random, 0, 255);
  }
  return made;
}

/** Brings in fonts, drawings and tables of colours that were changed by chance. */
export async function holdLayers(fonts: number, drawings: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const whole = FONTS.map((id) =>
    readFileSync(new URL(`../../packages/core/fonts/${id}.ttf`, import.meta.url)),
  );
  const any = () => whole[wholeFrom(random, 0, whole.length - 1)];
  const kinds = new Map<string, LayerKind>();
  const shot = (name: string, kind: LayerKind, bytes: Buffer): Shot => {
    kinds.set(name, kind);
    return { name, bytes };
  };
  const shots = [
    ...(existsSync(DAMAGED) ? [shot('damaged-font.ttf', 'font', readFileSync(DAMAGED))] : []),
    ...Array.from({ length: fonts }, (_, i) => shot(`${i}.ttf`, 'font', mutateFont(any(), any(), random))),
    ...Array.from({ length: drawings }, (_, i) =>
      i % 2 === 0
        ? shot(`${i}.svg`, 'emblem', mutate(DRAWING, TABLE, random))
        : shot(`${i}.cube`, 'table', mutate(TABLE, DRAWING, random)),
    ),
  ];
  return underFire(
    'fonts, drawings and tables',
    shots,
    async (url, { name, bytes }, { answered, failed }) => {
      const kind = kinds.get(name);
      const sent = await ask<LayerView>(url, 'POST', `layers?kind=${kind}&name=${name}`, bytes);
      answered(name, sent?.status ?? 0);
      if (sent?.status !== 201 || kind !== 'font') return;
      const face = await ask(url, 'GET', `fonts/${sent.body.hash}`);
      if (!face || face.status >= 500) failed(`the face of ${name}: ${face?.status ?? 0}`);
    },
  );
}

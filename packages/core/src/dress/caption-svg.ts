import type { Rect, Size } from '../pixels/index.js';
import type { Caption } from './caption.js';
import { runsRightToLeft } from './caption-text.js';

/** From the middle of a line to the line its letters stand on, sizes: most capitals are .7 high. */
const BASELINE = 0.35;
const ANCHORS = { left: 'start', centre: 'middle', right: 'end' } as const;
/** The shadow's way and softness, sizes. */
const SHADOW_DOWN = 0.04;
const SHADOW_BLUR = 0.08;

/** Letters in pixels of a frame. */
export function letterPx({ style }: Caption, frame: Pick<Size, 'height'>): number {
  return (style.size / 100) * frame.height;
}

/**
 * The letters alone, for measuring how wide they are. Lines hang on x = 0 as they are aligned, and the block's
 * middle is y = 0.
 * @param family of the font asked for.
 */
export function measuringSvg(caption: Caption, family: string, px: number): string {
  const far = px * 1000;
  return svg(
    { x: -far, y: -far, width: 2 * far, height: 2 * far },
    { width: 10, height: 10 },
    lines(caption, family, px, 'fill="#fff"'),
  );
}

/** A drawing of a caption, and where its top left corner lies from the block's middle. */
export interface CaptionDrawing {
  readonly svg: string;
  readonly size: Size;
  readonly x: number;
  readonly y: number;
}

/** @param ink what the letters cover, as `measuringSvg` lays them. */
export function captionSvg(
  caption: Caption,
  family: string,
  px: number,
  ink: Pick<Rect, 'x' | 'width'>,
): CaptionDrawing {
  const { text, style } = caption;
  const { outline, box, shadow } = style;
  const block = blockOf(text, style.lineHeight * px, ink);
  const of = (percent: number) => (percent / 100) * px;
  const parts: string[] = [];
  const padding = box ? of(box.padding) : 0;
  if (box) {
    const corner = Math.min(
      of(box.corner),
      (block.width + 2 * padding) / 2,
      (block.height + 2 * padding) / 2,
    );
    parts.push(
      `<rect x="${num(block.x - padding)}" y="${num(block.y - padding)}" width="${num(block.width + 2 * padding)}" height="${num(block.height + 2 * padding)}" rx="${num(corner)}" fill="${box.colour}" fill-opacity="${num(box.opacity / 100)}"/>`,
    );
  }
  if (shadow && shadow.strength > 0) {
    parts.push(
      `<filter id="s" x="-1" y="-1" width="3" height="3"><feGaussianBlur stdDeviation="${num(px * SHADOW_BLUR)}"/></filter>`,
      `<g filter="url(#s)" opacity="${num(shadow.strength / 100)}" transform="translate(0 ${num(px * SHADOW_DOWN)})">${lines(caption, family, px, `fill="${shadow.colour}"${stroke(shadow.colour, outline ? of(outline.width) : 0)}`)}</g>`,
    );
  }
  parts.push(
    lines(
      caption,
      family,
      px,
      `fill="${style.colour}"${outline ? stroke(outline.colour, of(outline.width)) : ''}`,
    ),
  );
  // Accents and tails reach beyond their line.
  const room =
    px * 0.6 + Math.max(padding, outline ? of(outline.width) : 0, shadow ? px * 4 * SHADOW_BLUR : 0);
  const middle = block.x + block.width / 2;
  const half = Math.ceil(block.width / 2 + room);
  const tall = Math.ceil(block.height / 2 + room);
  const size = { width: 2 * half, height: 2 * tall };
  const view = { x: middle - half, y: -tall, ...size };
  return { svg: svg(view, size, parts.join('')), size, x: -half, y: -tall };
}

/** What a caption takes up without its outline and shadow, from the block's middle, px. */
export function blockOf(text: string, linePx: number, ink: Pick<Rect, 'x' | 'width'>): Rect {
  const height = text.split('\n').length * linePx;
  return { x: ink.x, y: -height / 2, width: ink.width, height };
}

function lines({ text, style }: Caption, family: string, px: number, paint: string): string {
  const all = text.split('\n');
  const step = style.lineHeight * px;
  return all
    .map((line, i) => {
      if (line.trim() === '') return '';
      const y = (i - (all.length - 1) / 2) * step + BASELINE * px;
      const spacing = style.spacing === 0 ? '' : ` letter-spacing="${num((style.spacing / 100) * px)}"`;
      // An embedding gives the line its direction (Unicode, Annex 9, 2.1).
      const directed = runsRightToLeft(line) ? `\u202b${line}\u202c` : line;
      return `<text xml:space="preserve" x="0" y="${num(y)}" text-anchor="${ANCHORS[style.align]}" font-family="${escaped(family)}" font-size="${num(px)}"${spacing} ${paint}>${escaped(directed)}</text>`;
    })
    .join('');
}

/** Half of a stroke lies under the letter, which is filled over it. */
function stroke(colour: string, px: number): string {
  if (px === 0) return '';
  return ` stroke="${colour}" stroke-width="${num(px * 2)}" stroke-linejoin="round" paint-order="stroke"`;
}

function svg(view: Rect, size: Size, inside: string): string {
  const box = [view.x, view.y, view.width, view.height].map(num).join(' ');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}" viewBox="${box}">${inside}</svg>`;
}

/** The same text on every host. */
function num(value: number): string {
  return String(Math.round(value * 1000) / 1000);
}

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ESCAPES[sign]);
}

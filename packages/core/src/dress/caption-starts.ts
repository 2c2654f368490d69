import type { Caption, CaptionStyle } from './caption.js';

const PLAIN: CaptionStyle = {
  font: 'clear-sans',
  size: 7,
  colour: '#ffffff',
  align: 'centre',
  lineHeight: 1.2,
  spacing: 0,
  outline: null,
  box: null,
  shadow: null,
};

/** A caption to begin with. */
export interface CaptionStart {
  readonly name: string;
  readonly text: string;
  readonly style: CaptionStyle;
  readonly x: number;
  readonly y: number;
}

/** Our own. A new one is an entry here. */
export const CAPTION_STARTS = {
  below: {
    name: 'A line below',
    text: 'Your words',
    style: { ...PLAIN, outline: { width: 7, colour: '#16302e' } },
    x: 0.5,
    y: 0.88,
  },
  above: {
    name: 'A line above',
    text: 'Your words',
    style: { ...PLAIN, shadow: { colour: '#0f282b', strength: 80 } },
    x: 0.5,
    y: 0.11,
  },
  word: {
    name: 'A big word',
    text: 'OPEN',
    style: { ...PLAIN, font: 'heavy-narrow', size: 26, spacing: 3, outline: { width: 4, colour: '#16302e' } },
    x: 0.5,
    y: 0.5,
  },
  label: {
    name: 'A label',
    text: 'Label',
    style: {
      ...PLAIN,
      size: 5,
      colour: '#16302e',
      align: 'left',
      box: { colour: '#fbfcf9', opacity: 92, padding: 55, corner: 40 },
    },
    x: 0.16,
    y: 0.9,
  },
} as const satisfies Record<string, CaptionStart>;

export type CaptionStartId = keyof typeof CAPTION_STARTS;

/** @param id not yet in use. */
export function newCaption(start: CaptionStart, id: string): Caption {
  const { text, style, x, y } = start;
  return { id, text, style, x, y, time: null, fadeCs: 0, shown: true };
}

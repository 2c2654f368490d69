import { CAPTION_LIMITS } from './caption.js';

/** A text as captions hold it, and what was changed for that, in sentences. */
export interface CleanText {
  readonly text: string;
  readonly notes: readonly string[];
}

/** Tabulators and characters without a shape, but for line feeds. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for
const CONTROLS = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\ufeff\ufff0-\ufffb]/g;
/** What turns directions round for the rest of a text; marks for single places stay. */
const TURNS = /[\u202a-\u202e\u2066-\u2069]/g;
/** Half of a pair that writes one character. */
const LONE_HALVES = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Makes a text fit for a caption; nothing is changed without being told. */
export function cleanText(typed: string): CleanText {
  const notes: string[] = [];
  const lines = typed.replace(/\r\n?|\u2028|\u2029/g, '\n');
  const readable = lines.replace(/\t/g, ' ').replace(CONTROLS, '').replace(LONE_HALVES, '');
  if (readable.length < lines.length) notes.push('Control characters were left out: they have no shape.');
  const straight = readable.replace(TURNS, '');
  if (straight.length < readable.length) {
    notes.push('Signs that turn the direction of writing were left out; each line finds its own.');
  }
  const letters = [...straight];
  const most = CAPTION_LIMITS.letters.max;
  if (straight.length > most) {
    notes.push(`A caption holds ${most} letters; the rest of ${letters.length} was left out.`);
  }
  let text = '';
  for (const letter of letters) {
    if (text.length + letter.length > most) break;
    text += letter;
  }
  return { text, notes };
}

/** Hebrew, Arabic and the other scripts that run from right to left (Unicode, Annex 9, classes R and AL). */
const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/;
const LETTER = /\p{L}/u;

/** The direction of a line is that of its first letter. */
export function runsRightToLeft(line: string): boolean {
  for (const letter of line) if (LETTER.test(letter)) return RIGHT_TO_LEFT.test(letter);
  return false;
}

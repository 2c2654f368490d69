/** Signs that turn the direction of what follows (Unicode Annex 9), and a byte order mark. */
const TURNS = /[\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/g;
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
const CONTROLS = /[\u0000-\u001f\u007f-\u009f\u2028\u2029]/g;

/**
 * A text as a name or a title holds it: one line in NFC, without control characters and signs that turn the
 * direction of writing, white space as single blanks and none at its ends.
 */
export function plainLine(text: string): string {
  return text
    .toWellFormed()
    .normalize('NFC')
    .replace(CONTROLS, ' ')
    .replace(TURNS, '')
    .replace(/\s+/g, ' ')
    .trim();
}

/** The first characters of a text that take at most so many bytes of UTF-8; no character is cut in two. */
export function withinBytes(text: string, mostBytes: number): string {
  let bytes = 0;
  let end = 0;
  for (const character of text) {
    bytes += utf8Bytes(character.codePointAt(0) ?? 0);
    if (bytes > mostBytes) break;
    end += character.length;
  }
  return text.slice(0, end);
}

/** Bytes of one character in UTF-8 (RFC 3629, section 3). */
function utf8Bytes(codePoint: number): number {
  if (codePoint < 0x80) return 1;
  if (codePoint < 0x800) return 2;
  return codePoint < 0x10000 ? 3 : 4;
}

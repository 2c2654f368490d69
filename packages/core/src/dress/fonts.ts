/** A font that ships with the application. */
export interface ShippedFont {
  readonly label: string;
  /** What it is for, and what it leaves out. */
  readonly about: string;
}

/** Files in packages/core/fonts, made by tools/make-fonts.mjs. The order is that in which letters are looked for. */
export const FONTS = {
  'clear-sans': {
    label: 'Clear',
    about: 'Latin; the letters of this application',
  },
  'round-head': { label: 'Warm', about: 'Latin; for a few large words' },
  'heavy-narrow': { label: 'Heavy narrow', about: 'Latin; much in little room' },
  'book-serif': { label: 'Book', about: 'Latin and Cyrillic, with serifs' },
  'pen-hand': { label: 'Hand', about: 'Latin and Cyrillic, as written with a pen' },
  'even-mono': {
    label: 'Even',
    about: 'Latin, Greek and Cyrillic, all equally wide',
  },
  western: { label: 'Western', about: 'Latin, Greek and Cyrillic' },
  arabic: { label: 'Arabic', about: 'Arabic, Persian, Urdu' },
  hebrew: { label: 'Hebrew', about: 'Hebrew, with points' },
  devanagari: { label: 'Devanagari', about: 'Hindi, Marathi, Nepali' },
  thai: { label: 'Thai', about: 'Thai' },
  chinese: {
    label: 'Chinese',
    about: 'The 3 755 most used simplified characters; rare and traditional ones are not in it',
  },
  japanese: {
    label: 'Japanese',
    about: 'Kana and the 2 965 characters of everyday writing; rarer ones are not in it',
  },
  korean: {
    label: 'Korean',
    about: 'The 2 350 usual syllables; rarer ones are not in it',
  },
  emoji: { label: 'Signs', about: 'Emoji, drawn in the colour of the letters' },
} as const satisfies Record<string, ShippedFont>;

export type FontId = keyof typeof FONTS;
export const FONT_IDS = Object.keys(FONTS) as FontId[];

/** What is known of a font that can be used: one that ships, or one's own. */
export interface FontFace {
  /** A name of the list, or the SHA-256 of the file. */
  readonly id: string;
  /** As it is called inside its file. */
  readonly family: string;
  /** First and last of each run of characters that it has, rising. */
  readonly runs: readonly number[];
}

/** Whether a font has a character. */
export function hasCharacter({ runs }: Pick<FontFace, 'runs'>, character: number): boolean {
  let [low, high] = [0, runs.length / 2 - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (character < runs[middle * 2]) high = middle - 1;
    else if (character > runs[middle * 2 + 1]) low = middle + 1;
    else return true;
  }
  return false;
}

/** Characters as runs, as `FontFace` has them. @param characters rising. */
export function runsOf(characters: Iterable<number>): number[] {
  const runs: number[] = [];
  for (const character of characters) {
    if (runs.length > 0 && runs[runs.length - 1] === character - 1) runs[runs.length - 1] = character;
    else runs.push(character, character);
  }
  return runs;
}

/** Which fonts a text needs, and what none of them has. */
export interface FontChoice {
  /** The one asked for first. */
  readonly faces: readonly FontFace[];
  /** Characters that no font has, each once. */
  readonly missing: readonly string[];
}

/**
 * The font that is asked for, and for characters it lacks the first other one that has them.
 * @param faces all there are, in the order in which they are looked through.
 */
export function chooseFonts(text: string, wanted: string, faces: readonly FontFace[]): FontChoice {
  const first = faces.find((face) => face.id === wanted) ?? faces[0];
  const chosen = new Set<FontFace>(first ? [first] : []);
  const missing = new Set<string>();
  for (const letter of text) {
    const character = letter.codePointAt(0) as number;
    if (isUnseen(character) || [...chosen].some((face) => hasCharacter(face, character))) continue;
    const other = faces.find((face) => hasCharacter(face, character));
    if (other) chosen.add(other);
    else missing.add(letter);
  }
  return { faces: [...chosen], missing: [...missing] };
}

/** Line feeds, joiners, direction marks, variation selectors: they need no shape of their own. */
function isUnseen(character: number): boolean {
  return (
    character === 0x0a ||
    (character >= 0x200b && character <= 0x200f) ||
    (character >= 0x2060 && character <= 0x2064) ||
    (character >= 0xfe00 && character <= 0xfe0f)
  );
}

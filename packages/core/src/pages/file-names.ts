/** What a name can be made of. */
export const NAME_FIELDS = ['piece', 'width', 'height', 'rate', 'kind', 'date', 'trial'] as const;
export type NameField = (typeof NAME_FIELDS)[number];

export type NameValues = Readonly<Record<NameField, string>>;

export const USUAL_PATTERN = '{piece} {width}px';

/** The longest name without its ending, in UTF-16 units: with it, every file system takes it. */
const LONGEST_NAME = 100;

/** Names that one system or another keeps for itself. */
const RESERVED = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])$/i;

/**
 * A name that every file system takes: no separators or reserved signs, no dots or spaces at its ends, none
 * of the signs that turn the direction of what follows.
 */
export function safeName(text: string): string {
  const bare = text
    .normalize('NFC')
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
    .replace(/[\u0000-\u001f\u007f-\u009f<>:"/\\|?*]/g, ' ')
    .replace(/[\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]/g, '')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '');
  const short = shortened(bare).replace(/[. ]+$/g, '');
  if (short === '') return 'loop';
  return RESERVED.test(short.split('.')[0]) ? `loop ${short}` : short;
}

/** A whole file name made safe: its ending stays, however long the rest is. */
export function safeFileName(name: string): string {
  const dot = name.lastIndexOf('.');
  return dot <= 0 ? safeName(name) : `${safeName(name.slice(0, dot))}.${safeName(name.slice(dot + 1))}`;
}

/** Cut between whole characters. */
function shortened(text: string): string {
  if (text.length <= LONGEST_NAME) return text;
  const last = text.charCodeAt(LONGEST_NAME - 1);
  return text.slice(0, last >= 0xd800 && last < 0xdc00 ? LONGEST_NAME - 1 : LONGEST_NAME);
}

/** The name of a finished file after a pattern: fields stand in braces, other braces stay as they are. */
export function fileNameOf(pattern: string, values: NameValues, extension: string): string {
  const filled = pattern.replace(/\{(\w+)\}/g, (whole, field: string) =>
    Object.hasOwn(values, field) ? values[field as NameField] : whole,
  );
  return `${safeName(filled)}.${extension}`;
}

/** The names in their order, none of which stands twice: a number is added to those that would. */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const dot = name.lastIndexOf('.');
    const [bare, ending] = dot < 0 ? [name, ''] : [name.slice(0, dot), name.slice(dot)];
    let candidate = name;
    // Some systems do not tell large from small letters.
    for (let number = 2; taken.has(candidate.toLowerCase()); number++)
      candidate = `${bare} ${number}${ending}`;
    taken.add(candidate.toLowerCase());
    return candidate;
  });
}

import { plainLine, withinBytes } from '../schema/index.js';

/** What a name can be made of. */
export const NAME_FIELDS = ['piece', 'width', 'height', 'rate', 'kind', 'date', 'trial'] as const;
export type NameField = (typeof NAME_FIELDS)[number];

export type NameValues = Readonly<Record<NameField, string>>;

export const USUAL_PATTERN = '{piece} {width}px';

/**
 * The longest name without its ending, bytes of UTF-8. With an ending, a number and a word before a reserved
 * name it stays within 200; file systems take 255.
 */
const MOST_BYTES = 176;
/** The longest ending without its dot, bytes. */
const MOST_ENDING_BYTES = 15;

/** Names that one system or another keeps for itself. */
const RESERVED = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])$/i;

/**
 * A name that every file system takes: no separators or reserved signs, no dots or spaces at its ends, none
 * of the signs that turn the direction of what follows.
 */
export function safeName(text: string, mostBytes = MOST_BYTES): string {
  const bare = plainLine(text.replace(/[<>:"/\\|?*]/g, ' ').replace(/[\u200b-\u200d\u2060-\u2065]/g, ''));
  const trimmed = bare.replace(/^[. ]+|[. ]+$/g, '');
  const short = withinBytes(trimmed, mostBytes).replace(/[. ]+$/g, '');
  if (short === '') return 'loop';
  return RESERVED.test(short.split('.')[0]) ? `loop ${short}` : short;
}

/** A whole file name made safe: its ending stays, however long the rest is. */
export function safeFileName(name: string): string {
  const dot = name.lastIndexOf('.');
  if (dot <= 0) return safeName(name);
  return `${safeName(name.slice(0, dot))}.${safeName(name.slice(dot + 1), MOST_ENDING_BYTES)}`;
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

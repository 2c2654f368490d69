/** The host's reader of character sets, as far as it is used here. */
interface TextReader {
  new (encoding: string, options?: { readonly fatal?: boolean }): { decode(bytes: Uint8Array): string };
}

/** A text, and a sentence where its character set had to be guessed. */
export interface DecodedText {
  readonly text: string;
  readonly note: string | null;
}

/**
 * Bytes as text: UTF-8 or UTF-16 by their mark, UTF-8 where they are that, else the western set that older
 * programs write.
 */
export function decodeText(bytes: Uint8Array): DecodedText {
  const Reader = (globalThis as unknown as { TextDecoder: TextReader }).TextDecoder;
  if (bytes[0] === 0xff && bytes[1] === 0xfe)
    return { text: new Reader('utf-16le').decode(bytes), note: null };
  if (bytes[0] === 0xfe && bytes[1] === 0xff)
    return { text: new Reader('utf-16be').decode(bytes), note: null };
  try {
    return { text: new Reader('utf-8', { fatal: true }).decode(bytes), note: null };
  } catch {
    return {
      text: new Reader('windows-1252').decode(bytes),
      note: 'The file is not in UTF-8; it was read as western letters. If they are wrong, save it as UTF-8.',
    };
  }
}

const LONGEST_NAME = 200;

/** The last part of the path, without control characters, never empty. */
export function cleanName(name: string | undefined): string {
  const last = (name ?? '').split(/[\\/]/).at(-1) ?? '';
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
  const clean = last.replace(/[\u0000-\u001f\u007f]/g, '').trim();
  // By characters, so that none is cut in two.
  return [...clean.toWellFormed()].slice(0, LONGEST_NAME).join('') || 'unnamed';
}

/** A name that every file system takes: no separators or reserved signs, and the right ending. */
export function fileNameOf(text: string): string {
  const bare = text
    .replace(/\.gif$/i, '')
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
    .replace(/[\u0000-\u001f<>:"/\\|?*]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^\.+|[. ]+$/g, '');
  return `${bare.slice(0, 100) || 'loop'}.gif`;
}

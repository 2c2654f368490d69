/** The words that show a saved file in a page. The size is given so that nothing jumps while it loads. */
export function pageSnippet(
  fileName: string,
  about: string,
  size: { width: number; height: number },
): string {
  return `<img src="${escapeAttribute(encodeURI(fileName))}" width="${size.width}" height="${size.height}" alt="${escapeAttribute(about)}" loading="lazy">`;
}

function escapeAttribute(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
}

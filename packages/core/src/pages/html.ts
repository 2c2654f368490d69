const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text as it may stand in a page, also inside quotes: nothing in it is markup. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => ENTITIES[sign]);
}

/** The address of a file beside the page: every sign that means something in an address is written out. */
export function fileUrl(name: string): string {
  return name.split('/').map(encodeURIComponent).join('/');
}

import { escapeHtml } from './html.js';

export interface PageOptions {
  readonly title: string;
  /** What the page shows, as HTML. */
  readonly body: string;
  /** What is behind it, as CSS. */
  readonly ground?: string;
  /** Beside the ground; null for a page that may hold no style. */
  readonly style?: string | null;
  readonly head?: string;
}

/** A checkerboard shows where a picture is transparent. */
export const CHECKERBOARD = 'repeating-conic-gradient(#c9d3ce 0% 25%, #ffffff 0% 50%) 0 0 / 24px 24px fixed';

/** A whole page around a snippet: nothing on it but the loop. */
export function pageOf({ title, body, ground = '#ffffff', style = '', head = '' }: PageOptions): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
${styleOf(style, ground)}${head}</head>
<body>
${body}
</body>
</html>
`;
}

function styleOf(style: string | null, ground: string): string {
  if (style === null) return '';
  return `<style>
html, body { margin: 0; min-height: 100%; background: ${ground}; }
body { display: grid; place-items: center; min-height: 100vh; }
img, video { display: block; max-width: 100%; height: auto; }
${style}</style>
`;
}

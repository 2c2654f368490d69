import { escapeHtml, sideBySidePage } from '@muted-pond/core/pages';
import type { HostPage } from './page.entity.js';

/** Where things of a page are. */
export interface PageLinks {
  readonly page: string;
  readonly embed: string;
  readonly direct: string;
  readonly oembed: string;
}

export function linksOf({ id }: Pick<HostPage, 'id'>, base: string): PageLinks {
  const page = `${base}/p/${id}`;
  return {
    page,
    embed: `${base}/e/${id}`,
    direct: `${base}/f/${id}`,
    oembed: `${base}/oembed?format=json&url=${encodeURIComponent(page)}`,
  };
}

/** HTML that shows a page's loop in another page, sized right. */
export function embedHtml(page: HostPage, base: string): string {
  const { embed } = linksOf(page, base);
  const title = escapeHtml(page.title);
  return `<iframe src="${embed}" width="${page.width}" height="${page.height}" title="${title}" style="border:0;max-width:100%" loading="lazy" allow="autoplay"></iframe>`;
}

/** All that is shown is asked for from here; nothing is run. */
export const STYLES = `
:root { color-scheme: light; }
html, body { margin: 0; min-height: 100%; }
body { display: grid; grid-template-rows: 1fr auto; min-height: 100vh; background: #16211f; color: #d3dfda; font: 15px/1.45 system-ui, sans-serif; }
main { display: grid; place-items: center; gap: 14px; padding: 24px; align-content: center; }
img, video { display: block; max-width: 100%; height: auto; }
h1 { margin: 0; font-size: 18px; font-weight: 600; overflow-wrap: anywhere; text-align: center; }
p { margin: 0; }
footer { padding: 14px 24px; color: #8b9a94; font-size: 13px; text-align: center; }
a { color: #8fd0bd; }
.bare { display: block; min-height: 0; background: none; }
.list main { align-content: start; grid-template-columns: repeat(auto-fill, minmax(220px, 1fr)); place-items: start stretch; }
.list article { padding: 12px; border-radius: 12px; background: #1e2d2a; }
.list h1 { font-size: 15px; text-align: left; padding-top: 8px; }
`;

/** The loop alone: no player bar, playing by itself. */
function loopHtml(page: HostPage, base: string): string {
  const { direct } = linksOf(page, base);
  const size = `width="${page.width}" height="${page.height}"`;
  const about = escapeHtml(page.about || page.title);
  if (!page.mime.startsWith('video/')) return `<img src="${direct}" ${size} alt="${about}">`;
  const loops = page.plays === 0 ? ' loop' : '';
  return `<video src="${direct}" ${size} autoplay muted${loops} playsinline disablepictureinpicture disableremoteplayback aria-label="${about}"></video>`;
}

function wholePage(title: string, head: string, body: string, look = ''): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
<link rel="stylesheet" href="/look.css">
${head}</head>
<body${look ? ` class="${look}"` : ''}>
${body}
</body>
</html>
`;
}

export function pageHtml(page: HostPage, placeName: string, base: string): string {
  const { oembed, direct, page: own } = linksOf(page, base);
  const title = escapeHtml(page.title);
  const head = [
    `<link rel="alternate" type="application/json+oembed" href="${escapeHtml(oembed)}" title="${title}">`,
    `<link rel="canonical" href="${own}">`,
    `<meta property="og:title" content="${title}">`,
    `<meta property="og:image" content="${direct}">`,
    '',
  ].join('\n');
  return wholePage(
    page.title,
    head,
    `<main>\n${loopHtml(page, base)}\n<h1>${title}</h1>\n</main>\n<footer>${escapeHtml(placeName)}, at the practice host</footer>`,
  );
}

export function embedPageHtml(page: HostPage, base: string): string {
  return wholePage(page.title, '', loopHtml(page, base), 'bare');
}

export function listHtml(pages: readonly HostPage[], base: string): string {
  const shown = pages.map((page) => {
    const { page: own } = linksOf(page, base);
    return `<article><a href="${own}">${loopHtml(page, base)}</a><h1>${escapeHtml(page.title)}</h1></article>`;
  });
  const body = shown.length > 0 ? shown.join('\n') : '<p>Nothing was sent here yet.</p>';
  return wholePage(
    'Practice host',
    '',
    `<main>\n${body}\n</main>\n<footer>the practice host</footer>`,
    'list',
  );
}

export function gonePage(sentence: string): string {
  return wholePage('Not here', '', `<main><h1>${escapeHtml(sentence)}</h1></main>`);
}

/** Pages beside one another, beginning together. */
export function besideHtml(pages: readonly HostPage[], base: string): string {
  const files = pages.map((page) => ({
    title: page.title,
    lines: page.about === '' ? [] : page.about.split(' | '),
    url: linksOf(page, base).direct,
    isMovie: page.mime.startsWith('video/'),
    width: page.width,
    height: page.height,
  }));
  return sideBySidePage('Side by side', files, { style: '/beside.css', script: '/together.js' });
}

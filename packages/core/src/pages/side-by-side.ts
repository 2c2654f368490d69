import { escapeHtml } from './html.js';
import { pageOf } from './page.js';

/** One of several files that are looked at beside one another. */
export interface ComparedFile {
  /** What it is called: “A · small”. */
  readonly title: string;
  /** Its settings and figures, a line each. */
  readonly lines: readonly string[];
  readonly url: string;
  readonly isMovie: boolean;
  readonly width: number;
  readonly height: number;
}

export const MOST_COMPARED = 4;

/** How the page looks. */
export const SIDE_BY_SIDE_STYLE = `
body { display: block; padding: 24px; font: 15px/1.45 system-ui, sans-serif; color: #16302e; background: #eef2ec; }
main { display: flex; flex-wrap: wrap; gap: 24px; justify-content: center; align-items: flex-start; }
figure { margin: 0; padding: 12px; background: #fbfcf9; border: 1px solid #d5ded4; border-radius: 14px; }
figcaption { padding-top: 10px; }
figcaption strong { display: block; }
figcaption span { display: block; color: #5b716c; font-variant-numeric: tabular-nums; }
p { text-align: center; color: #5b716c; }
button { font: inherit; padding: 6px 16px; border: 1px solid #9db5ab; border-radius: 999px; background: #fbfcf9; }
`;

/** All begin again at once: images by being shown anew, movies by going back. */
export const SIDE_BY_SIDE_SCRIPT = `
const shown = [...document.querySelectorAll('img, video')];
async function together() {
  for (const one of shown) {
    if (one.tagName === 'VIDEO') one.pause();
    else one.dataset.src ??= one.src;
  }
  const images = shown.filter((one) => one.tagName === 'IMG');
  const bytes = await Promise.all(images.map(async (one) => (await fetch(one.dataset.src)).blob()));
  const fresh = await Promise.all(bytes.map(async (blob, i) => {
    const image = images[i].cloneNode();
    image.src = URL.createObjectURL(blob);
    await image.decode().catch(() => {});
    return image;
  }));
  for (const [i, image] of fresh.entries()) {
    shown[shown.indexOf(images[i])] = image;
    images[i].replaceWith(image);
  }
  for (const one of shown) if (one.tagName === 'VIDEO') { one.currentTime = 0; void one.play().catch(() => {}); }
}
document.querySelector('button').addEventListener('click', together);
window.addEventListener('load', together);
`;

/** Where a page has its look and its script: inside, or at addresses of its own. */
export interface SideBySideParts {
  readonly style: string;
  readonly script: string;
}

/**
 * A page on which files play in step, with what they weigh and how they were made.
 * @param apart addresses, where the page itself may hold neither look nor script; inside it by default.
 * @throws RangeError for fewer than two files, or more than four.
 */
export function sideBySidePage(
  title: string,
  files: readonly ComparedFile[],
  apart: SideBySideParts | null = null,
): string {
  if (files.length < 2 || files.length > MOST_COMPARED) {
    throw new RangeError(
      `Two to ${MOST_COMPARED} files are looked at side by side; these are ${files.length}.`,
    );
  }
  const figures = files.map(({ title: name, lines, url, isMovie, width, height }) => {
    const size = `width="${width}" height="${height}"`;
    const address = escapeHtml(url);
    const picture = isMovie
      ? `<video src="${address}" ${size} muted loop playsinline></video>`
      : `<img src="${address}" ${size} alt="${escapeHtml(name)}">`;
    const told = lines.map((line) => `<span>${escapeHtml(line)}</span>`).join('');
    return `<figure>${picture}<figcaption><strong>${escapeHtml(name)}</strong>${told}</figcaption></figure>`;
  });
  const button = '<p><button type="button">Begin together</button></p>';
  const script = apart
    ? `<script src="${apart.script}"></script>`
    : `<script>${SIDE_BY_SIDE_SCRIPT}</script>`;
  return pageOf({
    title,
    ground: '#eef2ec',
    style: apart ? null : SIDE_BY_SIDE_STYLE,
    head: apart ? `<link rel="stylesheet" href="${apart.style}">\n` : '',
    body: `<main>\n${figures.join('\n')}\n</main>\n${button}\n${script}`,
  });
}

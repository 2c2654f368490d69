import { FILE_KIND_IDS, type FileKindId, fileKind, type ShownAs } from '../files/index.js';
import { escapeHtml } from './html.js';

/** A finished file as a page names it. */
export interface PageFile {
  readonly kind: FileKindId;
  /** As it stands in the page. */
  readonly url: string;
  readonly mime: string;
  readonly width: number;
  readonly height: number;
  readonly bytes: number;
}

/** Ways to put a loop into a page. */
export const SNIPPETS = ['image', 'picture', 'video'] as const;
export type SnippetName = (typeof SNIPPETS)[number];

/** What a way to show a loop needs and is for. */
interface Snippet {
  readonly name: string;
  readonly about: string;
  /** The kinds that it can show, by how a page shows them; the most widely known of them that is there leads. */
  readonly shows: ShownAs;
  write(shown: readonly PageFile[], options: SnippetOptions): string;
}

export interface SnippetOptions {
  readonly files: readonly PageFile[];
  /** Address of a picture for where nothing may move; null where there is none. */
  readonly still: string | null;
  /** What is to be seen, for who does not see it. */
  readonly about: string;
  /** How often the loop is seen, 0 without end. */
  readonly plays: number;
}

const REDUCED = '(prefers-reduced-motion: reduce)';
const NOT_REDUCED = '(prefers-reduced-motion: no-preference)';

/** Attributes in their order; those that are null are left out, those that are true stand alone. */
function tag(name: string, attributes: Readonly<Record<string, string | number | true | null>>): string {
  const written = Object.entries(attributes).flatMap(([key, value]) => {
    if (value === null) return [];
    return value === true ? [key] : [`${key}="${escapeHtml(String(value))}"`];
  });
  return `<${[name, ...written].join(' ')}>`;
}

/** The size is given so that nothing jumps while the file is fetched. */
function image({ url, width, height }: PageFile, about: string): string {
  return tag('img', {
    src: url,
    width,
    height,
    alt: about,
    style: 'max-width:100%;height:auto',
  });
}

/** How each way to show a loop is written. */
export const SNIPPET_WAYS: Readonly<Record<SnippetName, Snippet>> = {
  image: {
    name: 'Image',
    about: 'one file, wherever a picture can stand',
    shows: 'image',
    write: ([first], { about }) => image(first, about),
  },
  picture: {
    name: 'Picture',
    about: 'the lightest that a browser knows, and a still for who wants no motion',
    shows: 'image',
    write(shown, { still, about }) {
      // Browsers take the first that they know: the lightest. What all know stands last.
      const [last] = shown;
      const sources = lightestFirst(shown).filter(({ bytes }) => bytes < last.bytes);
      return [
        '<picture>',
        ...(still ? [`  ${tag('source', { media: REDUCED, srcset: still })}`] : []),
        ...sources.map(({ mime, url }) => `  ${tag('source', { type: mime, srcset: url })}`),
        `  ${image(last, about)}`,
        '</picture>',
      ].join('\n');
    },
  },
  video: {
    name: 'Video',
    about: 'silent, without a player bar, going round; the still where motion is not wanted',
    shows: 'movie',
    write(shown, { still, about, plays }) {
      const lightest = lightestFirst(shown);
      const [{ width, height }] = lightest;
      return [
        tag('video', {
          width,
          height,
          autoplay: true,
          muted: true,
          loop: plays === 0 ? true : null,
          playsinline: true,
          disablepictureinpicture: true,
          disableremoteplayback: true,
          poster: still,
          'aria-label': about,
          style: 'max-width:100%;height:auto',
        }),
        // Where no source may play, the poster stands.
        ...lightest.map(
          ({ url, mime }) =>
            `  ${tag('source', { src: url, type: mime, media: still ? NOT_REDUCED : null })}`,
        ),
        '</video>',
      ].join('\n');
    },
  },
};

/** The files that a way can show, the one that leads first. */
export function shownBy<File extends Pick<PageFile, 'kind'>>(
  name: SnippetName,
  files: readonly File[],
): File[] {
  const { shows } = SNIPPET_WAYS[name];
  const kinds = FILE_KIND_IDS.filter((id) => fileKind(id).shownAs === shows);
  return kinds.flatMap((kind) => files.filter((file) => file.kind === kind));
}

/** The file that a browser which knows all kinds takes from the page; null where there is none. */
export function takenFrom<File extends Pick<PageFile, 'kind' | 'bytes'>>(
  name: SnippetName,
  files: readonly File[],
): File | null {
  const shown = shownBy(name, files);
  return (name === 'image' ? shown[0] : lightestFirst(shown)[0]) ?? null;
}

function lightestFirst<File extends { readonly bytes: number }>(files: readonly File[]): File[] {
  return [...files].sort((one, other) => one.bytes - other.bytes);
}

/**
 * The words that show a loop in a page, right as pasted.
 * @throws RangeError when none of the files can be shown this way.
 */
export function snippetOf(name: SnippetName, options: SnippetOptions): string {
  const shown = shownBy(name, options.files);
  if (shown.length === 0) throw new RangeError(`No file here can be shown as ${SNIPPET_WAYS[name].name}.`);
  return SNIPPET_WAYS[name].write(shown, options);
}

/** The way that makes the most of the files that are there; null where none can show them. */
export function bestSnippet(files: readonly PageFile[]): SnippetName | null {
  const count = (name: SnippetName) => shownBy(name, files).length;
  if (count('picture') > 1) return 'picture';
  if (count('image') > 0) return 'image';
  return count('video') > 0 ? 'video' : null;
}

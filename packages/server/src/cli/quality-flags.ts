import { UserError } from '@muted-pond/core/errors';
import { ENCODED_LIMITS, QUALITIES, type QualityName, WEBP_WAYS, type WebpWay } from '@muted-pond/core/files';
import type { WeighChange } from '@muted-pond/core/recipe';

/** What can be said of one kind of file, and what it means there. */
interface QualityWord {
  readonly words: string;
  /** @returns null where the text says nothing to this kind. */
  read(text: string): WeighChange | null;
}

const NUMBER = `a number from ${ENCODED_LIMITS.quality.min} to ${ENCODED_LIMITS.quality.max}`;

function numberOf(text: string): number | null {
  const value = Number(text);
  const { min, max } = ENCODED_LIMITS.quality;
  return text.trim() !== '' && value >= min && value <= max ? value : null;
}

/** Kinds that have a quality and nothing else to be told here. */
function numbered(kind: 'avif' | 'mp4' | 'webm' | 'poster'): QualityWord {
  return {
    words: NUMBER,
    read(text) {
      const quality = numberOf(text);
      return quality === null ? null : { [kind]: { quality } };
    },
  };
}

const QUALITY_WORDS: Readonly<Record<string, QualityWord>> = {
  gif: {
    words: Object.keys(QUALITIES).join(', '),
    read: (text) => (text in QUALITIES ? { gif: QUALITIES[text as QualityName] } : null),
  },
  webp: {
    words: `${NUMBER}, or ${WEBP_WAYS.slice(1).join(' or ')}`,
    read(text) {
      const way = WEBP_WAYS.find((one): one is WebpWay => one === text);
      if (way) return { webp: { way } };
      const quality = numberOf(text);
      return quality === null ? null : { webp: { quality } };
    },
  },
  apng: {
    words: 'exact, settled or palette',
    read: (text) =>
      ({
        exact: { apng: { colours: 'full', settle: 0 } },
        settled: { apng: { colours: 'full' } },
        palette: { apng: { colours: 'palette' } },
      })[text] as WeighChange | null,
  },
  avif: numbered('avif'),
  mp4: numbered('mp4'),
  webm: numbered('webm'),
  poster: numbered('poster'),
};

/** Each as KIND=WHAT. @throws UserError in one line for what says nothing. */
export function readQualities(texts: readonly string[]): WeighChange {
  return Object.assign({}, ...texts.map(readQuality));
}

function readQuality(text: string): WeighChange {
  const at = text.indexOf('=');
  const kind = text.slice(0, Math.max(0, at));
  const word = Object.hasOwn(QUALITY_WORDS, kind) ? QUALITY_WORDS[kind] : null;
  if (!word) {
    throw new UserError(
      'bad_flag',
      `--quality-of ${text}: give KIND=QUALITY, with one of ${Object.keys(QUALITY_WORDS).join(', ')}.`,
    );
  }
  const change = word.read(text.slice(at + 1));
  if (change) return change;
  throw new UserError('bad_flag', `--quality-of ${text}: ${kind} takes ${word.words}.`);
}

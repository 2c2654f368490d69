import type { TrialFigures } from '@muted-pond/core/api';
import { fileKind } from '@muted-pond/core/files';
import type { Recipe } from '@muted-pond/core/recipe';
import { STRETCHED_TO_CS, STRETCHED_UNDER_CS } from '../../trials/viewer-pace.js';
import { formatBytes, formatRate, formatSeconds, playsWords } from '../../ui/format.js';

/** Something that was measured on a file and that its maker should know. */
export interface FileNote {
  readonly kind: 'heavy' | 'viewers';
  readonly words: string;
  /** What a click does about it. */
  readonly remedy: { readonly words: string; readonly change: (recipe: Recipe) => Recipe } | null;
}

/** A frame that costs this many times the usual is told of. */
const HEAVY = 2.5;
/** From this share of the whole on, the first frame is what weighs. */
const FIRST_WEIGHS = 0.4;
/** Wider pictures are made smaller by many pages and chats, px. */
const SHRUNK_FROM = 1000;

/** Whether some viewers show the file slower than it is. */
export function isDrawnOut({ kind, frames, durationMs }: TrialFigures): boolean {
  return fileKind(kind).shownAs === 'image' && frames > 1 && durationMs / 10 / frames < STRETCHED_UNDER_CS;
}

/** What makes a file heavy, and what viewers may do to it. */
export function notesOf(figures: TrialFigures, recipe: Recipe): FileNote[] {
  const { frameBytes, frames, durationMs, bytes, width } = figures;
  const notes: FileNote[] = [];
  const [first, ...rest] = frameBytes;
  const written = rest.filter((weight) => weight > 0);
  const usual = [...written].sort((a, b) => a - b)[written.length >> 1] ?? 0;
  const heaviest = rest.reduce((best, weight, i) => (weight > rest[best] ? i : best), 0);
  if (rest.length > 0 && first > bytes * FIRST_WEIGHS) {
    notes.push({
      kind: 'heavy',
      words: `The first frame is ${formatBytes(first)}, ${Math.round((first / bytes) * 100)} % of it: there, a smaller picture or fewer colours help, not fewer frames.`,
      remedy: null,
    });
  }
  if (usual > 0 && rest[heaviest] > usual * HEAVY) {
    notes.push({
      kind: 'heavy',
      words: `Frame ${heaviest + 1} to ${heaviest + 2}: ${formatBytes(rest[heaviest])}, ${(rest[heaviest] / usual).toFixed(1)} × the usual. Much of the picture changes at once there.`,
      remedy: null,
    });
  }
  const delayCs = durationMs / 10 / frames;
  if (isDrawnOut(figures)) {
    const slow = (frames * STRETCHED_TO_CS) / 100;
    const { frameRate } = recipe.weigh;
    notes.push({
      kind: 'viewers',
      words: `Frames of ${formatRate(delayCs / 100)} s are drawn out by some viewers: it would last ${formatSeconds(slow)} there, not ${formatSeconds(durationMs / 1000)}. Above the picture, “Drawn out” plays it so.`,
      remedy: {
        words: 'Half the frames, twice the delay',
        change: (now) => ({
          ...now,
          weigh: {
            ...now.weigh,
            frameRate: Math.max(1, Math.floor((frameRate === 'source' ? 100 / delayCs : frameRate) / 2)),
          },
        }),
      },
    });
  }
  const { kind } = figures;
  if (recipe.plays > 0 && fileKind(kind).shownAs === 'movie') {
    notes.push({
      kind: 'viewers',
      words: 'A movie does not say how often it is seen; the words for a page in Send do.',
      remedy: null,
    });
  } else if (recipe.plays > 0 && fileKind(kind).shownAs === 'image') {
    notes.push({
      kind: 'viewers',
      words: `It is seen ${playsWords(recipe.plays)} and then stands on its last frame.`,
      remedy: { words: 'Play without end', change: (now) => ({ ...now, plays: 0 }) },
    });
  }
  if (width > SHRUNK_FROM) {
    notes.push({
      kind: 'viewers',
      words: `${width} px is wider than most pages and chats show; they make it smaller, and the bytes are spent all the same.`,
      remedy: {
        words: `Make it ${SHRUNK_FROM} px`,
        change: (now) => ({ ...now, weigh: { ...now.weigh, width: SHRUNK_FROM } }),
      },
    });
  }
  return notes;
}

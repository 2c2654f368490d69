import { UserError } from '../errors/index.js';
import { boundaryTime, type FrameTimes, type Reel, reelCentiseconds } from '../timing/index.js';
import { CAPTION_LIMITS, type Caption } from './caption.js';
import { CAPTION_STARTS, newCaption } from './caption-starts.js';
import { cleanText } from './caption-text.js';
import type { ShownTime } from './times.js';

/** One entry of a subtitle file. */
export interface Subtitle {
  readonly fromMs: number;
  readonly toMs: number;
  readonly text: string;
}

export interface Subtitles {
  readonly entries: readonly Subtitle[];
  /** What was left out, in sentences; broken entries by their line. */
  readonly notes: readonly string[];
}

/** A day: longer is a mistake. */
const LONGEST_MS = 86_400_000;
/** Broken entries that are told one by one. */
const MOST_TOLD = 5;

const TIMES = /^\s*((?:\d+:)?\d{1,2}:\d{1,2}[.,]\d{1,3})\s*-->\s*((?:\d+:)?\d{1,2}:\d{1,2}[.,]\d{1,3})(.*)$/;

/**
 * Reads SubRip or WebVTT; which one it is, its content says. Styles and places are left out, and that is told.
 * Source: WebVTT (W3C, 2019), 4 and 6; SubRip has no standard.
 * @throws UserError where there is no entry at all.
 */
export function readSubtitles(file: string): Subtitles {
  const lines = file.replace(/^\ufeff/, '').split(/\r\n|\r|\n/);
  const isWebVtt = /^WEBVTT($|\s)/.test(lines[0] ?? '');
  const entries: Subtitle[] = [];
  const broken: string[] = [];
  let [hasStyles, hasPlaces] = [false, false];
  for (let at = isWebVtt ? 1 : 0; at < lines.length; ) {
    if (isBlank(lines[at])) {
      at++;
      continue;
    }
    const first = at;
    while (at < lines.length && !isBlank(lines[at])) at++;
    const block = lines.slice(first, at);
    if (isWebVtt && /^(NOTE|STYLE|REGION)($|\s)/.test(block[0])) {
      hasStyles ||= !block[0].startsWith('NOTE');
      continue;
    }
    const timesAt = block.findIndex((line) => line.includes('-->'));
    // Before the first entry, a WebVTT file may have a head.
    if (timesAt < 0 && isWebVtt && entries.length === 0 && broken.length === 0) continue;
    if (timesAt < 0) {
      broken.push(`The entry in line ${first + 1} has no times`);
      continue;
    }
    const times = TIMES.exec(block[timesAt]);
    const [fromMs, toMs] = times ? [msOf(times[1]), msOf(times[2])] : [Number.NaN, Number.NaN];
    if (!(toMs > fromMs && toMs <= LONGEST_MS)) {
      broken.push(`The times in line ${first + timesAt + 1} cannot be read`);
      continue;
    }
    hasPlaces ||= (times?.[3] ?? '').trim() !== '';
    const raw = block.slice(timesAt + 1).join('\n');
    const bare = raw.replace(/<\/?[a-z0-9][^<>]*>|\{\\[^}]*\}/gi, '');
    hasStyles ||= bare !== raw;
    const text = cleanText(withoutEntities(bare)).text.trim();
    if (text !== '') entries.push({ fromMs, toMs, text });
  }
  if (entries.length === 0) {
    throw new UserError('bad_subtitles', noEntries(broken));
  }
  return { entries, notes: notesOf(broken, hasStyles, hasPlaces) };
}

/** An empty line ends an entry; one with a hard space does not. */
function isBlank(line: string): boolean {
  return /^[ \t]*$/.test(line);
}

function noEntries(broken: readonly string[]): string {
  const first = broken.length > 0 ? ` ${broken[0]}.` : '';
  return `This is no subtitle file that can be read.${first} Bring SubRip (.srt) or WebVTT (.vtt).`;
}

function notesOf(broken: readonly string[], hasStyles: boolean, hasPlaces: boolean): string[] {
  const told = broken.slice(0, MOST_TOLD).map((what) => `${what}; it was left out.`);
  const more = broken.length - told.length;
  return [
    ...told,
    ...(more > 0 ? [`${more} more broken entries were left out.`] : []),
    ...(hasStyles ? ['Styles were left out: all entries look like the first caption.'] : []),
    ...(hasPlaces ? ['Places on the picture were left out.'] : []),
  ];
}

function msOf(clock: string): number {
  const [whole, part] = clock.replace(',', '.').split('.');
  const units = whole.split(':').map(Number);
  const seconds = units.reduce((sum, unit) => sum * 60 + unit, 0);
  return seconds * 1000 + Number(part.padEnd(3, '0'));
}

const ENTITIES: Record<string, string> = {
  amp: '&',
  lt: '<',
  gt: '>',
  nbsp: '\u00a0',
  lrm: '\u200e',
  rlm: '\u200f',
};

function withoutEntities(text: string): string {
  return text.replace(/&(amp|lt|gt|nbsp|lrm|rlm);/g, (_, name: string) => ENTITIES[name]);
}

/** A loop and the footage it comes from, for placing entries on it. */
export interface SubtitleGround {
  readonly reel: Reel;
  readonly times: FrameTimes;
}

export interface PlacedSubtitles {
  readonly captions: readonly Caption[];
  readonly notes: readonly string[];
}

/**
 * Entries as captions on a reel. Times on the footage are those of the frames that the reel shows.
 * @param like whose style and place they take; a line below where null.
 * @param room how many captions more there may be.
 */
export function placeSubtitles(
  entries: readonly Subtitle[],
  on: 'reel' | 'footage',
  { reel, times }: SubtitleGround,
  like: Caption | null,
  room: number = CAPTION_LIMITS.captions.max,
): PlacedSubtitles {
  const totalCs = reelCentiseconds(reel);
  const notes: string[] = [];
  const placed: Caption[] = [];
  let outside = 0;
  for (const [i, entry] of entries.entries()) {
    const time = on === 'reel' ? onReel(entry, totalCs) : onFootage(entry, reel, times);
    if (!time) outside++;
    else if (placed.length < room) {
      const base = like ?? newCaption(CAPTION_STARTS.below, '');
      placed.push({ ...base, id: `subtitle-${i + 1}`, text: entry.text, time, shown: true });
    }
  }
  if (outside > 0)
    notes.push(`${outside} of ${entries.length} entries lie outside the loop; they were left out.`);
  const over = entries.length - outside - placed.length;
  if (over > 0)
    notes.push(`A piece has at most ${CAPTION_LIMITS.captions.max} captions; ${over} were left out.`);
  return { captions: placed, notes };
}

function onReel({ fromMs, toMs }: Subtitle, totalCs: number): ShownTime | null {
  const fromCs = Math.round(fromMs / 10);
  const toCs = Math.min(totalCs, Math.round(toMs / 10));
  return toCs > fromCs ? { fromCs, toCs } : null;
}

/** From the first place whose frame lies in it to the last. */
function onFootage({ fromMs, toMs }: Subtitle, reel: Reel, times: FrameTimes): ShownTime | null {
  let time: { fromCs: number; toCs: number } | null = null;
  let atCs = 0;
  for (const { source, delayCs } of reel) {
    const ms = boundaryTime(times, source) * 1000;
    if (ms >= fromMs && ms < toMs) {
      if (!time) time = { fromCs: atCs, toCs: atCs + delayCs };
      else time.toCs = atCs + delayCs;
    }
    atCs += delayCs;
  }
  return time;
}

/** Captions as SubRip or WebVTT, in the order of their times. */
export function writeSubtitles(captions: readonly Caption[], form: 'srt' | 'vtt', totalCs: number): string {
  const timed = captions
    .filter(({ shown, text }) => shown && text.trim() !== '')
    .map(({ text, time }) => ({ text, ...(time ?? { fromCs: 0, toCs: totalCs }) }))
    .sort((one, other) => one.fromCs - other.fromCs);
  const mark = form === 'srt' ? ',' : '.';
  const entries = timed.map(({ text, fromCs, toCs }, i) => {
    const times = `${clockOf(fromCs, mark)} --> ${clockOf(toCs, mark)}`;
    // An empty line would end the entry.
    const lines = text.replace(/\n(?=\n)/g, '\n\u00a0');
    return form === 'srt' ? `${i + 1}\n${times}\n${lines}\n` : `${times}\n${escapedVtt(lines)}\n`;
  });
  return form === 'srt' ? entries.join('\n') : `WEBVTT\n\n${entries.join('\n')}`;
}

function escapedVtt(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
}

function clockOf(cs: number, mark: string): string {
  const two = (value: number) => String(value).padStart(2, '0');
  const seconds = Math.floor(cs / 100);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${mark}${two(cs % 100)}0`;
}

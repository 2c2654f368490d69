import type { FootageView, StripProgress } from '@muted-pond/core/api';
import { isVariable, meanRate } from '@muted-pond/core/timing';
import type { AnimationFacts, MediaFacts, PictureFacts, VideoFacts } from '../media/index.js';
import { frameTimes } from '../media/index.js';
import type { Footage } from './footage.entity.js';

export function footageView(
  footage: Footage,
  strip: StripProgress,
  ready: boolean,
  problem: FootageView['problem'],
): FootageView {
  const { facts } = footage;
  const times = frameTimes(facts);
  return {
    id: footage.hash,
    name: footage.name,
    kind: facts.kind,
    bytes: footage.bytes,
    container: facts.container,
    codec: facts.codec,
    width: facts.width,
    height: facts.height,
    hasAlpha: facts.hasAlpha,
    frameCount: facts.ticks.length,
    seconds: times.duration,
    frameRate: meanRate(times),
    variableRate: isVariable(times),
    plays: facts.kind === 'animation' ? facts.plays : null,
    breaksOff: breakOf(facts),
    notes: notesOf(facts),
    problem,
    strip,
    ready,
    addedAt: footage.addedAt,
  };
}

/** In words, where the file ends before all is there that it promises. */
function breakOf(facts: MediaFacts): string | null {
  const { breaksOff } = facts;
  if (!breaksOff) return null;
  if (facts.kind === 'picture') return 'it breaks off: what is missing of the picture is left empty';
  const { promisedSeconds, promisedFrames } = breaksOff;
  const shown = `${frameTimes(facts).duration.toFixed(1)} s`;
  if (promisedSeconds !== null) return `it breaks off after ${shown} of ${promisedSeconds.toFixed(1)} s`;
  const frames = facts.ticks.length === 1 ? '1 frame' : `${facts.ticks.length} frames`;
  return promisedFrames === null
    ? `it breaks off after ${frames}, ${shown}`
    : `it breaks off after ${frames} of ${promisedFrames}`;
}

/** What was done so that the picture is upright, square and in sRGB. */
function notesOf(facts: MediaFacts): string[] {
  switch (facts.reader) {
    case 'ffmpeg':
      return videoNotes(facts);
    case 'picture':
      return pictureNotes(facts);
    default:
      return animationNotes(facts);
  }
}

const ALPHA_KEPT = 'see-through places kept';

function videoNotes(facts: VideoFacts): string[] {
  const notes: string[] = [];
  if (facts.turn !== 0) notes.push(`turned upright by ${facts.turn}°`);
  if (Math.abs(facts.pixelAspect - 1) > 0.001) {
    notes.push(`pixels made square (stored ${facts.storedWidth} × ${facts.storedHeight})`);
  }
  if (facts.interlaced) notes.push('de-interlaced');
  if (facts.hasAlpha) notes.push(ALPHA_KEPT);
  if (/p10|10le|10be/.test(facts.pixelFormat)) notes.push('ten bits a channel, shown in eight');
  if (facts.kind === 'animation') notes.push(playsNote(facts.plays));
  else notes.push(colourNote(facts));
  if (facts.addressing === 'count') {
    notes.push('it has no time stamps: its frames are counted, and spaced evenly');
  }
  if (facts.hasSound) notes.push('its sound is left out: loops are silent');
  return notes;
}

function colourNote({ pixelFormat, matrix, range, transfer, wideGamut }: VideoFacts): string {
  if (/^(gbr|rgb|bgr|argb|abgr)/.test(pixelFormat)) return 'RGB, taken as sRGB';
  const from = `${{ bt601: 'BT.601', bt709: 'BT.709', bt2020: 'BT.2020' }[matrix]}, ${range} range`;
  if (transfer !== 'sdr') {
    return `${from}, ${transfer.toUpperCase()}: high dynamic range brought into sRGB, highlights bent, not clipped`;
  }
  return wideGamut ? `${from}: wide colours brought into sRGB` : `${from}, shown as sRGB`;
}

function animationNotes(facts: AnimationFacts): string[] {
  const notes = ['its own delays are kept', playsNote(facts.plays)];
  if (facts.hasAlpha) notes.push(ALPHA_KEPT);
  if (facts.mendedDelays > 0) {
    notes.push(
      `${facts.mendedDelays} of ${facts.ticks.length} delays were shorter than 0.02 s and are taken as 0.10 s, as viewers play them`,
    );
  }
  return notes;
}

function playsNote(plays: number): string {
  if (plays === 0) return 'it plays without end';
  return plays === 1 ? 'it plays once' : `it plays ${plays} times`;
}

function pictureNotes(facts: PictureFacts): string[] {
  const notes: string[] = [];
  if (facts.turned) notes.push('turned upright as its camera noted (EXIF)');
  if (facts.hasAlpha) notes.push(ALPHA_KEPT);
  if (facts.bits > 8) notes.push(`${facts.bits} bits a channel, shown in eight`);
  notes.push(facts.hasProfile ? 'its own colour profile brought into sRGB' : 'taken as sRGB');
  return notes;
}

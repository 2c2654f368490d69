import type { FootageView, StripProgress } from '@muted-pond/core/api';
import { frameTimes, type VideoFacts } from '../media/index.js';
import type { Footage } from './footage.entity.js';

export function footageView(footage: Footage, strip: StripProgress, ready: boolean): FootageView {
  const { facts } = footage;
  const { duration } = frameTimes(facts);
  return {
    id: footage.hash,
    name: footage.name,
    bytes: footage.bytes,
    container: facts.container,
    codec: facts.codec,
    width: facts.width,
    height: facts.height,
    frameCount: facts.ticks.length,
    seconds: duration,
    frameRate: facts.ticks.length / duration,
    variableRate: isVariableRate(facts.ticks),
    notes: notesOf(facts),
    strip,
    ready,
    addedAt: footage.addedAt,
  };
}

/** Steps between frames that differ by more than a tick of rounding. */
function isVariableRate(ticks: readonly number[]): boolean {
  let shortest = Number.POSITIVE_INFINITY;
  let longest = 0;
  for (let i = 1; i < ticks.length; i++) {
    shortest = Math.min(shortest, ticks[i] - ticks[i - 1]);
    longest = Math.max(longest, ticks[i] - ticks[i - 1]);
  }
  return longest - shortest > 1 && longest > shortest * 1.1;
}

/** What the decoder does so that the picture is upright, square and in sRGB. */
function notesOf(facts: VideoFacts): string[] {
  const notes: string[] = [];
  if (facts.turn !== 0) notes.push(`turned upright by ${facts.turn}°`);
  if (Math.abs(facts.pixelAspect - 1) > 0.001) {
    notes.push(`pixels made square (stored ${facts.storedWidth} × ${facts.storedHeight})`);
  }
  if (facts.interlaced) notes.push('de-interlaced');
  const matrix = { bt601: 'BT.601', bt709: 'BT.709', bt2020: 'BT.2020' }[facts.matrix];
  notes.push(`${matrix}, ${facts.range} range, shown as sRGB`);
  if (facts.hasSound) notes.push('its sound is left out: loops are silent');
  return notes;
}

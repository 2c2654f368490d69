import { describe, expect, it } from 'vitest';
import { footageKey, footagePath, isOutdatedFootageKey, OF_FOOTAGE, type OfFootage } from './index.js';

const KINDS = Object.keys(OF_FOOTAGE) as OfFootage[];

describe('what is derived from footage alone', () => {
  it('has a name of its own, in which its version stands', () => {
    expect(new Set(KINDS.map((of) => footageKey(of))).size).toBe(KINDS.length);
    expect(footageKey('motion', 3, 90)).toBe(`motion@${OF_FOOTAGE.motion.version}-3-90`);
    expect(footagePath('abc', 'frames', 7)).toBe(`abc/frames/7?v=${OF_FOOTAGE.frames.version}`);
  });

  it.each(KINDS)('of another version, or of none, is outdated (%s)', (of) => {
    expect(isOutdatedFootageKey(footageKey(of))).toBe(false);
    expect(isOutdatedFootageKey(footageKey(of, 3, 90))).toBe(false);
    for (const other of [OF_FOOTAGE[of].version - 1, OF_FOOTAGE[of].version + 1]) {
      expect(isOutdatedFootageKey(`${of}@${other}`)).toBe(true);
      expect(isOutdatedFootageKey(`${of}@${other}-3-90`)).toBe(true);
    }
    expect(isOutdatedFootageKey(of)).toBe(true);
  });

  it('says nothing of what it did not name: weaves, measurements, pictures of trials', () => {
    for (const key of [
      'woven-0a1b',
      `holding-${'a'.repeat(64)}`,
      'a'.repeat(64),
      'weave-advice-1',
      'toString',
    ]) {
      expect(isOutdatedFootageKey(key), key).toBe(false);
    }
  });
});

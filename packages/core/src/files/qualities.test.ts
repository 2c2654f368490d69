import { describe, expect, it } from 'vitest';
import { FILE_KIND_IDS, fileKind, QUALITIES, TRIED_KINDS } from './index.js';

const read = (id: (typeof FILE_KIND_IDS)[number], text: string) => fileKind(id).quality?.read(text);

describe('a quality in a word or a number', () => {
  it.each(FILE_KIND_IDS)('of %s is what its settings take, or nothing', (id) => {
    const { quality, settings } = fileKind(id);
    const words = (quality?.words ?? '').split(/, or |, | or /);
    const texts = [...words, '0', '50', '100', '-1', '101', '', ' ', 'NaN', '1e9'];
    for (const text of [...texts, 'toString', 'constructor', '__proto__']) {
      const change = quality?.read(text) ?? null;
      if (change === null) continue;
      const { error } = settings.schema.validate({ ...settings.defaults, ...change }, { convert: false });
      expect(error, `${id}=${text}`).toBeUndefined();
      // A word that is no name of theirs, such as one of the language, is none.
      expect([...words, '0', '50', '100'], `${id}=${text}`).toContain(text);
    }
  });

  it('means what it says', () => {
    expect(read('gif', 'small')).toEqual(QUALITIES.small);
    expect(read('gif', '50')).toBeNull();
    expect(read('gif', 'toString')).toBeNull();
    expect(read('mp4', '42.5')).toEqual({ quality: 42.5 });
    expect(read('webp', 'lossless')).toEqual({ way: 'lossless' });
    expect(read('apng', 'exact')).toEqual({ colours: 'full', settle: 0 });
    expect(fileKind('frames').quality).toBeNull();
  });
});

it('kinds are tried in place of another in one order, and only those that can be made lighter', () => {
  expect(new Set(TRIED_KINDS).size).toBe(TRIED_KINDS.length);
  expect(TRIED_KINDS[0]).toBe('gif');
  for (const id of TRIED_KINDS) expect(fileKind(id).fit, id).not.toBeNull();
});

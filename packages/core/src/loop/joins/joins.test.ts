import { describe, expect, it } from 'vitest';
import { JOIN_KINDS, JOINS, joinOf, joinSchema } from './index.js';

describe('the family of joins', () => {
  it('has a cut first, and each kind once', () => {
    expect(JOIN_KINDS[0]).toBe('cut');
    expect(new Set(JOIN_KINDS).size).toBe(JOINS.length);
    for (const join of JOINS) expect(joinOf({ kind: join.kind })).toBe(join);
  });

  it.each(JOINS.map((join) => [join.kind, join] as const))(
    '%s holds its settings and no others',
    (_, join) => {
      const settings = join.over(join.length?.usual ?? 0);
      expect(settings.kind).toBe(join.kind);
      expect(joinSchema.validate(settings).error).toBeUndefined();
      expect(joinSchema.validate({ ...settings, surprise: 1 }).error).toBeDefined();
      expect(join.framesOf(settings)).toBe(join.length?.usual ?? 0);
      if (join.length) {
        for (const frames of [join.length.min - 1, join.length.max + 1, 2.5, '3']) {
          const wrong = { ...settings, frames };
          expect(joinSchema.validate(wrong, { convert: false }).error, String(frames)).toBeDefined();
        }
      }
      for (const candidate of join.candidates(1000, 10)) {
        expect(joinSchema.validate(candidate).error).toBeUndefined();
      }
    },
  );

  it('of an unknown kind are refused with those that there are', () => {
    const { error } = joinSchema.validate({ kind: 'glue' });
    for (const kind of JOIN_KINDS) expect(error?.message).toContain(kind);
  });

  it('there and back shows neither end twice', () => {
    const { back } = joinOf({ kind: 'there-and-back' });
    expect(back([1, 2, 3, 4])).toEqual([3, 2]);
    expect(back([1, 2])).toEqual([]);
    expect(joinOf({ kind: 'cut' }).back([1, 2, 3])).toEqual([]);
  });
});

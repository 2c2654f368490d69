import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { identityOf } from './index.js';

const THING = { name: 'thing', version: 3 };

/** A random value of JSON. */
function anyValue(random: () => number, depth = 0): unknown {
  const kind = wholeFrom(random, 0, depth > 3 ? 3 : 5);
  if (kind === 0) return wholeFrom(random, -1000, 1000) / 8;
  if (kind === 1) return random() < 0.5;
  if (kind === 2) return null;
  if (kind === 3) return ['a', 'ä', '"', '水', '\n', ''][wholeFrom(random, 0, 5)];
  const length = wholeFrom(random, 0, 4);
  const values = Array.from({ length }, () => anyValue(random, depth + 1));
  return kind === 4 ? values : Object.fromEntries(values.map((one, i) => [`k${i}`, one]));
}

/** The same value with the fields of its objects in another order. */
function turned(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(turned);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .reverse()
      .map(([key, inner]) => [key, turned(inner)]),
  );
}

describe('the key of a result', () => {
  it('is the SHA-256 of canonical JSON, as another implementation makes it', () => {
    const text = 'thing 3 {"a":{"b":1,"c":[true,null]},"d":"tea"}';
    const wanted = createHash('sha256').update(text).digest('hex');
    expect(identityOf(THING, { d: 'tea', a: { c: [true, null], b: 1 } })).toBe(wanted);
  });

  it('does not depend on the order of fields, and differs for other values (seeded)', () => {
    const random = seeded(7);
    const seen = new Map<string, string>();
    for (let round = 0; round < 400; round++) {
      const inputs = { one: anyValue(random), two: anyValue(random) };
      const key = identityOf(THING, inputs);
      expect(identityOf(THING, turned(inputs) as typeof inputs)).toBe(key);
      const text = JSON.stringify([inputs.one, inputs.two]);
      expect(seen.get(key) ?? text).toBe(text);
      seen.set(key, text);
    }
  });

  it('differs by name and version, and leaves out what is undefined', () => {
    const keys = [THING, { ...THING, version: 4 }, { ...THING, name: 'other' }].map((one) =>
      identityOf(one, { a: 1 }),
    );
    expect(new Set(keys).size).toBe(3);
    expect(identityOf(THING, { a: 1, b: undefined })).toBe(keys[0]);
  });
});

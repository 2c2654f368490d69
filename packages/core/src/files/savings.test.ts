import { describe, expect, it } from 'vitest';
import { FILE_KIND_IDS, fileKind } from './index.js';

/** The settings of a kind with every number at one end of its range, and every choice at one end of its list. */
function extreme(id: (typeof FILE_KIND_IDS)[number], end: 'first' | 'last') {
  const { settings } = fileKind(id);
  const { keys } = settings.schema.describe() as { keys?: Record<string, Described> };
  const made = Object.entries(keys ?? {}).map(([name, { type, rules = [], allow = [] }]) => {
    const bound = rules.find((rule) => rule.name === (end === 'first' ? 'min' : 'max'))?.args?.limit;
    const choices = allow.filter((one) => typeof one === 'string');
    if (type === 'number' && bound !== undefined) return [name, bound];
    if (type === 'string' && choices.length > 0) return [name, end === 'first' ? choices[0] : choices.at(-1)];
    return [name, settings.defaults[name as never]];
  });
  return { ...settings.defaults, ...Object.fromEntries(made) };
}

interface Described {
  readonly type: string;
  readonly rules?: readonly { readonly name: string; readonly args?: { readonly limit?: number } }[];
  readonly allow?: readonly unknown[];
}

describe('what is tried to make a file lighter', () => {
  it.each(FILE_KIND_IDS)('is within what the kind takes, whatever its settings are (%s)', (id) => {
    const { settings, savings } = fileKind(id);
    for (const own of [settings.defaults, extreme(id, 'first'), extreme(id, 'last')]) {
      expect(settings.schema.validate(own, { convert: false }).error).toBeUndefined();
      for (const { kind, change } of savings(own)) {
        const { error } = settings.schema.validate({ ...own, ...change }, { convert: false });
        expect(error?.message, `${kind} of ${JSON.stringify(own)}`).toBeUndefined();
      }
    }
  });

  it('changes one thing of the usual settings at a time', () => {
    for (const id of FILE_KIND_IDS) {
      const { settings, savings } = fileKind(id);
      for (const { kind, change } of savings(settings.defaults)) {
        const before = settings.defaults as Record<string, unknown>;
        const other = Object.entries(change).filter(([name, value]) => before[name] !== value);
        expect(other.length, `${id}, ${kind}`).toBeGreaterThan(0);
      }
    }
  });
});

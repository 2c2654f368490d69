/** Keys that mean something to the language itself. */
const FORBIDDEN = new Set(['__proto__', 'constructor', 'prototype']);

/** The first key of a JSON value, however deep, that no document of ours may have; null where there is none. */
export function forbiddenKey(value: unknown): string | null {
  // Without recursion: a document may be nested deeper than the stack is.
  const waiting: unknown[] = [value];
  while (waiting.length > 0) {
    const next = waiting.pop();
    if (typeof next !== 'object' || next === null) continue;
    if (!Array.isArray(next)) {
      for (const key of Object.keys(next)) if (FORBIDDEN.has(key)) return key;
    }
    for (const inner of Object.values(next)) waiting.push(inner);
  }
  return null;
}

const NATURAL = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** By name, “2” before “10”. */
export function byName<T>(items: readonly T[], nameOf: (item: T) => string): T[] {
  return [...items].sort((a, b) => NATURAL.compare(nameOf(a), nameOf(b)));
}

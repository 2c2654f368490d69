let last = 0;

/** The revision of a view that is told now: larger than all before it, also than those before a restart. */
export function nextRevision(): number {
  last = Math.max(last + 1, Date.now());
  return last;
}

/**
 * Visits the pixels of a frame where a segment begins, in their order. Most do not: they are passed over two
 * at a time.
 * @param durations of one frame; 0 where a segment goes on.
 */
export function visitStarts(durations: Uint16Array, visit: (pixel: number) => void): void {
  const { length } = durations;
  const pairs = length >> 1;
  // Arrays of settled reels begin where a word does; others are read one by one.
  if (durations.byteOffset % 4 !== 0) {
    for (let p = 0; p < length; p++) if (durations[p] !== 0) visit(p);
    return;
  }
  const words = new Uint32Array(durations.buffer, durations.byteOffset, pairs);
  for (let pair = 0; pair < pairs; pair++) {
    if (words[pair] === 0) continue;
    const p = pair * 2;
    if (durations[p] !== 0) visit(p);
    if (durations[p + 1] !== 0) visit(p + 1);
  }
  if (length % 2 === 1 && durations[length - 1] !== 0) visit(length - 1);
}

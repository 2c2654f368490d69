const MOST_CODES = 4096;

/**
 * Unpacks one image's LZW data (GIF89a, appendix F): reads every legal stream, also one that never
 * clears its full table ("deferred clear") or lacks its first clear code.
 * @param data the sub-blocks' bytes, joined.
 * @param minimumCodeBits 1–11.
 * @param out one index a pixel; filled in the order of the stream.
 * @returns how many pixels the stream held; fewer than `out.length` when it breaks off or goes wrong.
 */
export function decodeLzw(data: Uint8Array, minimumCodeBits: number, out: Uint8Array): number {
  const clearCode = 1 << minimumCodeBits;
  const endCode = clearCode + 1;
  const prefixes = new Uint16Array(MOST_CODES);
  const suffixes = new Uint8Array(MOST_CODES);
  const stack = new Uint8Array(MOST_CODES + 1);
  for (let code = 0; code < clearCode; code++) suffixes[code] = code;

  let nextCode = endCode + 1;
  let codeBits = minimumCodeBits + 1;
  let previous = -1;
  let firstOfPrevious = 0;
  let pending = 0;
  let pendingBits = 0;
  let at = 0;
  let written = 0;

  while (written < out.length) {
    while (pendingBits < codeBits) {
      if (at >= data.length) return written;
      pending |= data[at++] << pendingBits;
      pendingBits += 8;
    }
    const code = pending & ((1 << codeBits) - 1);
    pending >>>= codeBits;
    pendingBits -= codeBits;

    if (code === clearCode) {
      nextCode = endCode + 1;
      codeBits = minimumCodeBits + 1;
      previous = -1;
      continue;
    }
    if (code === endCode) return written;
    if (previous < 0) {
      if (code > clearCode) return written;
      out[written++] = suffixes[code];
      firstOfPrevious = suffixes[code];
      previous = code;
      continue;
    }
    if (code > nextCode || (code === nextCode && nextCode >= MOST_CODES)) return written;

    let depth = 0;
    let walk = code;
    if (code === nextCode) {
      stack[depth++] = firstOfPrevious;
      walk = previous;
    }
    while (walk >= clearCode) {
      stack[depth++] = suffixes[walk];
      walk = prefixes[walk];
    }
    firstOfPrevious = suffixes[walk];
    stack[depth++] = firstOfPrevious;
    while (depth > 0 && written < out.length) out[written++] = stack[--depth];

    if (nextCode < MOST_CODES) {
      prefixes[nextCode] = previous;
      suffixes[nextCode] = firstOfPrevious;
      nextCode++;
      if (nextCode === 1 << codeBits && codeBits < 12) codeBits++;
    }
    previous = code;
  }
  return written;
}

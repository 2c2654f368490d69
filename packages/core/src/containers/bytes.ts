/** Parts of a file one after the other. */
export function concat(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** The four letters by which a part of a file says what it is. */
export function fourCc(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}

export function fourCcBytes(text: string): Uint8Array {
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
}

/** Big-endian. */
export function u16be(value: number): Uint8Array {
  return Uint8Array.of((value >>> 8) & 255, value & 255);
}

/** Big-endian. */
export function u32be(value: number): Uint8Array {
  return Uint8Array.of(value >>> 24, (value >>> 16) & 255, (value >>> 8) & 255, value & 255);
}

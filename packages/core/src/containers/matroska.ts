/** Segment, Info and Duration (RFC 9559, 5.1.2.10), of which only the last is changed. */
const INFO = [0x15, 0x49, 0xa9, 0x66];
const DURATION = [0x44, 0x89];
/** An element that takes eight bytes, and one that takes four. */
const EIGHT_BYTES = 0x88;
const FOUR_BYTES = 0x84;

/**
 * The file with its length written anew: a movie that goes round begins again when it is over, and encoders
 * do not know how long the last frame is seen.
 * @param ms in thousandths of a second, which is the time scale that encoders write.
 * @throws RangeError when the file does not say its length.
 */
export function withMatroskaDuration(bytes: Uint8Array, ms: number): Uint8Array {
  const info = find(bytes, INFO, 0);
  const at = info < 0 ? -1 : find(bytes, DURATION, info);
  const out = new Uint8Array(bytes);
  const view = new DataView(out.buffer);
  const size = at < 0 ? 0 : out[at + 2];
  if (size === EIGHT_BYTES) view.setFloat64(at + 3, ms);
  else if (size === FOUR_BYTES) view.setFloat32(at + 3, ms);
  else throw new RangeError('This file does not say how long it is.');
  return out;
}

function find(bytes: Uint8Array, wanted: readonly number[], from: number): number {
  for (let at = from; at + wanted.length <= bytes.length; at++) {
    if (wanted.every((byte, i) => bytes[at + i] === byte)) return at;
  }
  return -1;
}

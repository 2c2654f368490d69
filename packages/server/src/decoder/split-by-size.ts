import type { Readable } from 'node:stream';

/**
 * A stream in pieces of so many bytes; what is left at its end is dropped.
 * @param room where the next piece is written. The piece before has been used by then.
 */
export async function* splitBySize(
  stream: Readable,
  bytes: number,
  room: () => Buffer = () => Buffer.allocUnsafeSlow(bytes),
): AsyncGenerator<Buffer> {
  let piece = room();
  let filled = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    let at = 0;
    while (at < chunk.length) {
      const take = Math.min(bytes - filled, chunk.length - at);
      chunk.copy(piece, filled, at, at + take);
      filled += take;
      at += take;
      if (filled === bytes) {
        yield piece;
        piece = room();
        filled = 0;
      }
    }
  }
}

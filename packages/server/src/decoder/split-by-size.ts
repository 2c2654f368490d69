import type { Readable } from 'node:stream';

/** A stream in pieces of so many bytes; what is left at its end is dropped. */
export async function* splitBySize(stream: Readable, bytes: number): AsyncGenerator<Buffer> {
  let picture = Buffer.allocUnsafeSlow(bytes);
  let filled = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    let at = 0;
    while (at < chunk.length) {
      const take = Math.min(bytes - filled, chunk.length - at);
      chunk.copy(picture, filled, at, at + take);
      filled += take;
      at += take;
      if (filled === bytes) {
        yield picture;
        picture = Buffer.allocUnsafeSlow(bytes);
        filled = 0;
      }
    }
  }
}

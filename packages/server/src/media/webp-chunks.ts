import { type FileHandle, open } from 'node:fs/promises';

/** One frame of an animated WebP, as it stands in the file. */
export interface WebpFrame {
  /** Where its chunk begins and ends, bytes. */
  readonly from: number;
  readonly to: number;
  /** It covers all that was drawn before it. */
  readonly coversAll: boolean;
}

export interface WebpChunks {
  /** Everything before the first frame: what applies to all of them. */
  readonly headEnd: number;
  readonly frames: readonly WebpFrame[];
  /** The file ends before all is there that its header promises. */
  readonly breaksOff: boolean;
}

/** RIFF header: a name, the size of what follows, and what it is. */
const RIFF_HEADER = 12;
const CHUNK_HEADER = 8;
/** Frame X, Y, width and height minus one, three bytes each and X and Y halved; duration; flags. */
const FRAME_HEADER = 16;

/**
 * Walks the chunks (WebP container specification, “RIFF file format” and “Animation”) without reading
 * pictures.
 */
export async function scanWebp(path: string): Promise<WebpChunks> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const header = await readAt(file, 0, RIFF_HEADER + CHUNK_HEADER + 10);
    const promised = header.readUInt32LE(4) + CHUNK_HEADER;
    const canvas = { width: header.readUIntLE(24, 3) + 1, height: header.readUIntLE(27, 3) + 1 };
    const frames: WebpFrame[] = [];
    let headEnd = 0;
    let at = RIFF_HEADER;
    while (at + CHUNK_HEADER <= size) {
      const chunk = await readAt(file, at, CHUNK_HEADER + FRAME_HEADER);
      const length = chunk.readUInt32LE(4);
      // Chunks begin at even places.
      const to = at + CHUNK_HEADER + length + (length & 1);
      if (to > size) break;
      if (chunk.toString('latin1', 0, 4) === 'ANMF') {
        headEnd ||= at;
        frames.push({ from: at, to, coversAll: coversAll(chunk, canvas) });
      }
      at = to;
    }
    return { headEnd, frames, breaksOff: promised > size };
  } finally {
    await file.close();
  }
}

function coversAll(chunk: Buffer, canvas: { width: number; height: number }): boolean {
  const at = CHUNK_HEADER;
  const [x, y] = [chunk.readUIntLE(at, 3), chunk.readUIntLE(at + 3, 3)];
  const [width, height] = [chunk.readUIntLE(at + 6, 3) + 1, chunk.readUIntLE(at + 9, 3) + 1];
  const isBlended = (chunk[at + 15] & 0x02) === 0;
  return x === 0 && y === 0 && width >= canvas.width && height >= canvas.height && !isBlended;
}

/**
 * Some frames as a file of their own, from the nearest one before them that covers everything.
 * @returns the file, and which frame of it the first wanted one is.
 */
export async function cutWebp(
  path: string,
  { headEnd, frames }: WebpChunks,
  first: number,
  last: number,
): Promise<{ readonly bytes: Buffer; readonly skipped: number }> {
  let start = first;
  while (start > 0 && !frames[start].coversAll) start--;
  const file = await open(path);
  try {
    const head = await readAt(file, 0, headEnd);
    const body = await readAt(file, frames[start].from, frames[last].to - frames[start].from);
    const bytes = Buffer.concat([head, body]);
    bytes.writeUInt32LE(bytes.length - CHUNK_HEADER, 4);
    return { bytes, skipped: first - start };
  } finally {
    await file.close();
  }
}

async function readAt(file: FileHandle, at: number, length: number): Promise<Buffer> {
  const buffer = Buffer.alloc(length);
  await file.read(buffer, 0, length, at);
  return buffer;
}

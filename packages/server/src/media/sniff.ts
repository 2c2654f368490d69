import { open } from 'node:fs/promises';
import { fileTypeFromBuffer } from 'file-type';

/** What a file is by its content; its name and ending never count. */
export type FileKind = 'video' | 'apng' | 'gif' | 'webp-animation' | 'picture' | 'drawing' | 'empty';

/**
 * An animated PNG says so before its first image data; more colour profile than this in front is not looked
 * through.
 */
const HEAD_BYTES = 64 * 1024;

export async function sniffFile(path: string): Promise<FileKind> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
    return await kindOf(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}

export async function isDrawing(path: string): Promise<boolean> {
  return (await sniffFile(path)) === 'drawing';
}

/** @param head the file's first bytes. */
export async function kindOf(head: Uint8Array): Promise<FileKind> {
  if (head.length === 0) return 'empty';
  const type = await fileTypeFromBuffer(head);
  switch (type?.ext) {
    case 'gif':
    case 'apng':
      return type.ext;
    case 'webp':
      return isAnimatedWebp(head) ? 'webp-animation' : 'picture';
    case 'avif':
      return isAvifSequence(head) ? 'video' : 'picture';
    case 'heic':
      return type.mime.endsWith('-sequence') ? 'video' : 'picture';
    case 'png':
    case 'jpg':
    case 'tif':
      return 'picture';
  }
  const text = latin1(head).trimStart();
  // Whatever stands before it: a declaration, a document type with entities, comments.
  if (/^(\xef\xbb\xbf)?\s*</.test(text) && /<svg[\s>]/i.test(text)) return 'drawing';
  return 'video';
}

function latin1(bytes: Uint8Array, from = 0, to = bytes.length): string {
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).toString('latin1', from, to);
}

/** AV1 Image File Format, 6.3: the major brand of a movie of pictures, which has the type of a picture. */
function isAvifSequence(head: Uint8Array): boolean {
  return latin1(head, 8, 12) === 'avis';
}

/** WebP container specification, “Extended file format”: the animation flag of VP8X. */
function isAnimatedWebp(head: Uint8Array): boolean {
  return latin1(head, 12, 16) === 'VP8X' && (head[20] & 0x02) !== 0;
}

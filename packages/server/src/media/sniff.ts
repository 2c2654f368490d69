import { open } from 'node:fs/promises';

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
    return kindOf(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}

export async function isDrawing(path: string): Promise<boolean> {
  return (await sniffFile(path)) === 'drawing';
}

/** @param head the file's first bytes. */
export function kindOf(head: Buffer): FileKind {
  if (head.length === 0) return 'empty';
  const begins = (text: string, at = 0) => head.toString('latin1', at, at + text.length) === text;
  if (begins('GIF87a') || begins('GIF89a')) return 'gif';
  if (begins('\x89PNG\r\n\x1a\n')) return isAnimatedPng(head) ? 'apng' : 'picture';
  if (begins('RIFF') && begins('WEBP', 8)) return isAnimatedWebp(head) ? 'webp-animation' : 'picture';
  if (begins('\xff\xd8\xff') || begins('II*\0') || begins('MM\0*')) return 'picture';
  // ISO/IEC 14496-12, 4.3: major brand, then the compatible ones. AVIF pictures; sequences are videos.
  if (begins('ftyp', 4) && ['avif', 'mif1', 'heic', 'heix'].some((brand) => begins(brand, 8)))
    return 'picture';
  const text = head.toString('latin1').trimStart();
  // Whatever stands before it: a declaration, a document type with entities, comments.
  if (/^(\xef\xbb\xbf)?\s*</.test(text) && /<svg[\s>]/i.test(text)) return 'drawing';
  return 'video';
}

/** PNG, third edition, 11.3.6.1: acTL comes before the first IDAT. */
function isAnimatedPng(head: Buffer): boolean {
  for (let at = 8; at + 8 <= head.length; ) {
    const type = head.toString('latin1', at + 4, at + 8);
    if (type === 'acTL') return true;
    if (type === 'IDAT') return false;
    at += 12 + head.readUInt32BE(at);
  }
  return false;
}

/** WebP container specification, “Extended file format”: the animation flag of VP8X. */
function isAnimatedWebp(head: Buffer): boolean {
  return head.toString('latin1', 12, 16) === 'VP8X' && (head[20] & 0x02) !== 0;
}

import { firstBytes } from './probe-headers.js';

/** PNG, third edition, 11.3.6.1: num_frames and num_plays of acTL; 0 plays is without end. */
export async function readApngControl(path: string): Promise<{ frames: number; plays: number }> {
  const head = await firstBytes(path, 64 * 1024);
  const at = head.indexOf('acTL', 0, 'latin1');
  if (at < 0 || at + 12 > head.length) return { frames: 0, plays: 0 };
  return { frames: head.readUInt32BE(at + 4), plays: head.readUInt32BE(at + 8) };
}

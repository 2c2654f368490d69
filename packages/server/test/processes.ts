import { readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';

/** Running processes of a program whose command line holds a text (Linux, /proc). */
export function processesWith(text: string, program = 'ffmpeg'): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        const isIt = readFileSync(`/proc/${pid}/comm`, 'utf8').trim() === program;
        return isIt && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(text);
      } catch {
        return false;
      }
    })
    .map(Number);
}

/** Folders in which a process makes files. */
export function scratchOf(pid: number): string[] {
  return readdirSync(tmpdir()).filter((name) => name.startsWith(`muted-pond-making-${pid}-`));
}

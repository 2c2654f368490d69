import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';

/** Runs a program to its end. @returns wall-clock milliseconds of the whole process. */
export async function timeProcess(program: string, args: readonly string[]): Promise<number> {
  const began = performance.now();
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'inherit'] });
  const [code] = await once(child, 'close');
  if (code !== 0) throw new Error(`${program} ended with ${code}.`);
  return performance.now() - began;
}

/** All frames of a file as the independent decoder shows them, at the file's own times, RGBA. */
export function decodeAll(path: string, width: number, height: number, isScaled = false): Uint8Array[] {
  const scale = isScaled ? ['-vf', `scale=${width}:${height}:flags=area`] : [];
  const raw = ['-fps_mode', 'passthrough', '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'];
  const { stdout, status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-i', path, ...scale, ...raw], {
    maxBuffer: 2 ** 31 - 1,
  });
  if (status !== 0) throw new Error(String(stderr));
  const bytes = width * height * 4;
  return Array.from(
    { length: stdout.length / bytes },
    (_, i) => new Uint8Array(stdout.subarray(i * bytes, (i + 1) * bytes)),
  );
}

/** The value below which the given share of the values lies. */
export function percentile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)];
}

export function median(values: readonly number[]): number {
  return percentile(values, 0.5);
}

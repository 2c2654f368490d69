import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Made-up clips, drawn by ffmpeg when the tests run. */
export interface ClipFolder {
  readonly path: string;
  /** Runs ffmpeg with these arguments, writing `name`. @returns its path. */
  make(name: string, ...args: string[]): string;
  remove(): void;
}

export function clipFolder(): ClipFolder {
  const path = mkdtempSync(join(tmpdir(), 'muted-pond-clips-'));
  return {
    path,
    make(name, ...args) {
      execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, join(path, name)]);
      return join(path, name);
    },
    remove: () => rmSync(path, { recursive: true, force: true }),
  };
}

/** Bits in which a frame carries its number: a row of squares, 16 px each, light for 1. */
export const NUMBER_BITS = 10;
const SQUARE = 16;
export const NUMBERED_WIDTH = NUMBER_BITS * SQUARE;
export const NUMBERED_HEIGHT = 48;

/** An input whose every frame shows its own number as a pattern, over a moving background. */
export function numberedFrames(count: number, rate: number): string[] {
  const bit = `mod(floor(N/pow(2\\,floor(X/${SQUARE})))\\,2)`;
  const luma = `if(lt(Y\\,32)\\,16+219*${bit}\\,128+60*sin((X+7*N)/9))`;
  return [
    ...['-f', 'lavfi', '-i', `nullsrc=s=${NUMBERED_WIDTH}x${NUMBERED_HEIGHT}:r=${rate}:d=${count / rate}`],
    ...['-vf', `format=yuv420p,geq=lum='${luma}':cb=128:cr=128`],
  ];
}

/**
 * Frames of 160 × 112: their number above, and below a light that goes round once in `period` frames. Only in
 * the lower part does the footage meet itself.
 */
export const GOING_ROUND_HEIGHT = 112;
export function goingRound(count: number, rate: number, period: number): string[] {
  const bit = `mod(floor(N/pow(2\\,floor(X/${SQUARE})))\\,2)`;
  const away = `hypot(X-80-50*cos(2*PI*N/${period})\\,Y-72-24*sin(2*PI*N/${period}))`;
  const ground = '70+20*sin(X/7)+15*cos(Y/5)';
  const luma = `if(lt(Y\\,32)\\,16+219*${bit}\\,if(lt(${away}\\,12)\\,225\\,${ground}))`;
  return [
    ...['-f', 'lavfi', '-i', `nullsrc=s=${NUMBERED_WIDTH}x${GOING_ROUND_HEIGHT}:r=${rate}:d=${count / rate}`],
    ...['-vf', `format=yuv420p,geq=lum='${luma}':cb=128:cr=128`],
  ];
}

/** Reads the number off decoded grey or RGBA pixels. */
export function readNumber(pixels: Uint8Array, bytesPerPixel: number, width: number): number {
  const scale = width / NUMBERED_WIDTH;
  let number = 0;
  for (let bit = 0; bit < NUMBER_BITS; bit++) {
    const x = Math.floor((bit + 0.5) * SQUARE * scale);
    const y = Math.floor(16 * scale);
    if (pixels[(y * width + x) * bytesPerPixel] > 128) number |= 1 << bit;
  }
  return number;
}

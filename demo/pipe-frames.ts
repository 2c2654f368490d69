import { spawn } from 'node:child_process';
import { once } from 'node:events';

/** Frames on their way to the encoder. */
export interface FramePipe {
  readonly width: number;
  readonly height: number;
  readonly framesPerSecond: number;
  readonly pixelFormat: 'rgb24' | 'rgba' | 'gray';
  /** The encoder's arguments after the input, with the file at their end. */
  readonly output: readonly string[];
  readonly frames: Iterable<Uint8Array>;
}

/** Hands raw frames to ffmpeg, as fast as it takes them. */
export async function pipeFrames(pipe: FramePipe): Promise<void> {
  const { width, height, framesPerSecond, pixelFormat, output, frames } = pipe;
  const encoder = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', pixelFormat, '-s', `${width}x${height}`],
      ...['-r', String(framesPerSecond), '-i', '-', ...output],
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  );
  const closed = once(encoder, 'close');
  for (const frame of frames) {
    if (!encoder.stdin.write(frame)) await once(encoder.stdin, 'drain');
  }
  encoder.stdin.end();
  const [code] = await closed;
  if (code !== 0) throw new Error(`The encoder ended with ${code} on ${output.at(-1)}.`);
}

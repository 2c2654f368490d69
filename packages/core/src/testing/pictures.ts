import { createFrame, type PixelFrame } from '../pixels/index.js';
import { seeded } from './seeded.js';

/** Opaque frames of a made-up scene: a gradient, a ball that moves, grain. */
export function movingBall(
  width: number,
  height: number,
  count: number,
  options: { seed?: number; grain?: number } = {},
): PixelFrame[] {
  const random = seeded(options.seed ?? 1);
  const grain = options.grain ?? 0;
  return Array.from({ length: count }, (_, f) => {
    const frame = createFrame(width, height);
    const cx = width * (0.2 + (0.6 * f) / count);
    const cy = height * 0.5;
    for (let y = 0, at = 0; y < height; y++) {
      for (let x = 0; x < width; x++, at += 4) {
        const inside = Math.hypot(x - cx, y - cy) < height / 5;
        const noise = (random() - 0.5) * 2 * grain;
        frame.rgba[at] = clamp((inside ? 230 : (x * 255) / width) + noise);
        frame.rgba[at + 1] = clamp((inside ? 120 : (y * 255) / height) + noise);
        frame.rgba[at + 2] = clamp((inside ? 40 : 128) + noise);
        frame.rgba[at + 3] = 255;
      }
    }
    return frame;
  });
}

/** A frame whose every byte is random; opaque. */
export function noiseFrame(width: number, height: number, random: () => number): PixelFrame {
  const frame = createFrame(width, height);
  for (let i = 0; i < frame.rgba.length; i++) {
    frame.rgba[i] = i % 4 === 3 ? 255 : Math.floor(random() * 256);
  }
  return frame;
}

export function copyOf(frames: readonly PixelFrame[]): PixelFrame[] {
  return frames.map((frame) => createFrame(frame.width, frame.height, frame.rgba.slice()));
}

function clamp(level: number): number {
  return Math.max(0, Math.min(255, Math.round(level)));
}

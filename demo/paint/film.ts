import type { CameraPose } from './camera.js';
import { encodeLevel, type Light, sampleInside } from './light.js';
import { seededRandom } from './random.js';

/** A picture in encoded sRGB levels, not rounded: 3 floats a pixel. */
export interface Exposure {
  readonly width: number;
  readonly height: number;
  readonly levels: Float32Array;
}

/** Adds one moment, seen through the camera, to the light that the shutter lets in. */
export function expose(sum: Light, scene: Light, pose: CameraPose, share: number): void {
  const { width, height } = sum;
  const marginX = (scene.width - width) / 2;
  const marginY = (scene.height - height) / 2;
  const cos = Math.cos(pose.roll);
  const sin = Math.sin(pose.roll);
  const cx = width / 2;
  const cy = height / 2;
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at += 4) {
      const dx = x - cx - pose.x;
      const dy = y - cy - pose.y;
      const s = sampleInside(scene, cos * dx + sin * dy + cx + marginX, -sin * dx + cos * dy + cy + marginY);
      sum.data[at] += s[0] * share;
      sum.data[at + 1] += s[1] * share;
      sum.data[at + 2] += s[2] * share;
    }
  }
}

/** Light to levels: gain, a soft shoulder for highlights, a darkened rim. */
export function develop(light: Light, gain: number, vignette: number): Exposure {
  const { width, height } = light;
  const levels = new Float32Array(width * height * 3);
  const reach = Math.hypot(width / 2, height / 2);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const r = Math.hypot(x - width / 2, y - height / 2) / reach;
      const exposure = gain * (1 - vignette * r * r * r);
      for (let c = 0; c < 3; c++) {
        levels[p * 3 + c] = encodeLevel(shoulder(light.data[p * 4 + c] * exposure));
      }
    }
  }
  return { width, height, levels };
}

function shoulder(linear: number): number {
  return linear < 0.8 ? linear : 0.8 + 0.2 * (1 - Math.exp(-(linear - 0.8) / 0.2));
}

/** Side of the tile that grain is cut from, px; a power of two. */
const TILE = 512;

/** Grain that is new in every frame: Gaussian, as soft as a small sensor's, stronger in the mid-tones. */
export function createGrain(seed: number, levels: number): (picture: Exposure) => Uint8Array {
  const random = seededRandom(seed);
  const tile = softNoise(random);
  const wrap = TILE - 1;
  return ({ width, height, levels: values }) => {
    const rgb = new Uint8Array(width * height * 3);
    const shifts = Array.from({ length: 8 }, () => Math.floor(random() * TILE));
    for (let y = 0, p = 0; y < height; y++) {
      const rows = [0, 1, 2, 3].map((plane) => ((y + shifts[plane * 2]) & wrap) * TILE);
      for (let x = 0; x < width; x++, p++) {
        const level = values[p * 3 + 1] / 255;
        const amount = levels * (0.4 + 2.4 * level * (1 - level));
        const luma = tile[rows[0] + ((x + shifts[1]) & wrap)];
        for (let c = 0; c < 3; c++) {
          const tint = tile[rows[c + 1] + ((x + shifts[c * 2 + 3]) & wrap)] * 0.35;
          rgb[p * 3 + c] = Math.max(0, Math.min(255, values[p * 3 + c] + amount * (luma + tint) + 0.5));
        }
      }
    }
    return rgb;
  };
}

/** Gaussian noise of unit spread, blurred over neighbours, on a tile that wraps. */
function softNoise(random: () => number): Float32Array {
  const white = Float32Array.from({ length: TILE * TILE }, () => {
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    return radius * Math.cos(2 * Math.PI * random());
  });
  const kernel = [0.4, 1, 0.4];
  const soft = new Float32Array(white.length);
  let squares = 0;
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      let sum = 0;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const at = ((y + dy) & (TILE - 1)) * TILE + ((x + dx) & (TILE - 1));
          sum += white[at] * kernel[dy + 1] * kernel[dx + 1];
        }
      }
      soft[y * TILE + x] = sum;
      squares += sum * sum;
    }
  }
  const spread = Math.sqrt(squares / soft.length);
  return soft.map((value) => value / spread);
}

import { SIGMA_FROM_MEDIAN, TUKEY } from '../motion/index.js';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { signedDistance } from './distance.js';
import type { Mask } from './mask.js';

/**
 * Width of the ring outside the ripples in which brightness is compared, px of a picture 1280 px wide; never
 * under the least.
 */
const RING = 14;
const LEAST_RING = 4;
const USUAL_WIDTH = 1280;
const ROUNDS = 4;
const LEAST_SPREAD = 1;
/** Fewer places than this cannot tell the light. */
const LEAST_PLACES = 40;
const GAIN_BOUNDS = [0.6, 1.7] as const;

export interface ChannelLight {
  readonly gain: number;
  /** Levels. */
  readonly offset: number;
}

export interface EvenLight {
  /**
   * Gain and offset of red, green and blue that make the frame as light as the plate along the ripples' edge.
   */
  measure(frame: PixelFrame): readonly ChannelLight[];
  apply(frame: PixelFrame): PixelFrame;
  /**
   * How far the frame's brightness is off the plate's in the ring, levels: the mean of the channel that is
   * off most.
   */
  step(frame: PixelFrame): number;
}

/**
 * Matches brightness along the edge of what moves: per channel gain and offset, fitted robustly (Tukey) in a
 * ring just outside the ripples, where frame and plate show the same.
 */
export function createEvenLight(plate: PixelFrame, mask: Mask | null): EvenLight {
  const places = mask ? ringPlaces(mask) : spreadPlaces(plate);
  const measure = (frame: PixelFrame) =>
    [0, 1, 2].map((channel) => fitChannel(plate, frame, places, channel));
  return {
    measure,
    step(frame) {
      const means = [0, 1, 2].map((c) => {
        let sum = 0;
        for (let k = 0; k < places.length; k++) {
          const i = places[k] * 4 + c;
          sum += frame.rgba[i] - plate.rgba[i];
        }
        return Math.abs(sum) / Math.max(1, places.length);
      });
      return Math.max(...means);
    },
    apply(frame) {
      const tables = measure(frame).map(({ gain, offset }) =>
        Uint8Array.from({ length: 256 }, (_, level) =>
          Math.max(0, Math.min(255, Math.round(level * gain + offset))),
        ),
      );
      const lit = createFrame(frame.width, frame.height, frame.rgba.slice());
      for (let i = 0; i < lit.rgba.length; i += 4) {
        for (let c = 0; c < 3; c++) lit.rgba[i + c] = tables[c][lit.rgba[i + c]];
      }
      return lit;
    },
  };
}

/** Of a picture without a mask, so many places are looked at. */
const SPREAD_PLACES = 2000;

function spreadPlaces({ width, height }: PixelFrame): Int32Array {
  const every = Math.max(1, Math.round(Math.sqrt((width * height) / SPREAD_PLACES)));
  const places: number[] = [];
  for (let y = every >> 1; y < height; y += every) {
    for (let x = every >> 1; x < width; x += every) places.push(y * width + x);
  }
  return Int32Array.from(places);
}

/** Held places that lie near enough to what moves. */
function ringPlaces(mask: Mask): Int32Array {
  const width = Math.max(LEAST_RING, (RING * mask.width) / USUAL_WIDTH);
  const moving = { ...mask, values: mask.values.map((value) => (value > 0 ? 255 : 0)) };
  const distance = signedDistance(moving, width + 1);
  const places: number[] = [];
  for (let p = 0; p < distance.length; p++) if (mask.values[p] === 0 && distance[p] <= width) places.push(p);
  return Int32Array.from(places);
}

function fitChannel(plate: PixelFrame, frame: PixelFrame, places: Int32Array, channel: number): ChannelLight {
  let fit: ChannelLight = { gain: 1, offset: 0 };
  if (places.length < LEAST_PLACES) return fit;
  const residuals = new Float32Array(places.length);
  for (let round = 0; round < ROUNDS; round++) {
    for (let k = 0; k < places.length; k++) {
      const i = places[k] * 4 + channel;
      residuals[k] = Math.abs(plate.rgba[i] - fit.gain * frame.rgba[i] - fit.offset);
    }
    const spread = Math.max(LEAST_SPREAD, residuals.sort()[places.length >> 1] * SIGMA_FROM_MEDIAN);
    let [n, x, y, xx, xy] = [0, 0, 0, 0, 0];
    for (let k = 0; k < places.length; k++) {
      const i = places[k] * 4 + channel;
      const u = (plate.rgba[i] - fit.gain * frame.rgba[i] - fit.offset) / (TUKEY * spread);
      if (u >= 1 || u <= -1) continue;
      const weight = (1 - u * u) ** 2;
      n += weight;
      x += weight * frame.rgba[i];
      y += weight * plate.rgba[i];
      xx += weight * frame.rgba[i] ** 2;
      xy += weight * frame.rgba[i] * plate.rgba[i];
    }
    const variance = n * xx - x * x;
    // Ground of one colour says only how much lighter it is.
    const gain = variance > 4 * n * n ? (n * xy - x * y) / variance : 1;
    if (n === 0 || gain < GAIN_BOUNDS[0] || gain > GAIN_BOUNDS[1]) return { gain: 1, offset: 0 };
    fit = { gain, offset: (y - gain * x) / n };
  }
  return fit;
}

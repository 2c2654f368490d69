import { LINEAR_FROM_SRGB8, LINEAR_MAX, linearToSrgb } from '@muted-pond/core/pixels';
import { Resvg } from '@resvg/resvg-js';

/** A picture in linear light, premultiplied: 4 floats a pixel, 1 is white. */
export interface Light {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

export function createLight(width: number, height: number): Light {
  return { width, height, data: new Float32Array(width * height * 4) };
}

/** Paints an SVG document into linear light. */
export function paintSvg(svg: string, width: number): Light {
  const drawn = new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render();
  const light = createLight(drawn.width, drawn.height);
  const { pixels } = drawn; // premultiplied RGBA8
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3] / 255;
    light.data[i + 3] = alpha;
    if (alpha === 0) continue;
    for (let c = 0; c < 3; c++) {
      const straight = Math.min(255, Math.round(pixels[i + c] / alpha));
      light.data[i + c] = (LINEAR_FROM_SRGB8[straight] / LINEAR_MAX) * alpha;
    }
  }
  return light;
}

/** Maps a point of the destination back into the source: [a b c; d e f]. */
export type Affine = readonly [number, number, number, number, number, number];

/**
 * The inverse map of a sprite that is turned by `radians` and scaled about its own `pivot`, which then lies
 * at `place`.
 */
export function spriteMap(
  pivot: readonly [number, number],
  place: readonly [number, number],
  radians: number,
  scale = 1,
): Affine {
  const cos = Math.cos(radians) / scale;
  const sin = Math.sin(radians) / scale;
  return [
    cos,
    sin,
    pivot[0] - cos * place[0] - sin * place[1],
    -sin,
    cos,
    pivot[1] + sin * place[0] - cos * place[1],
  ];
}

const sample = new Float32Array(4);

/** Bilinear sample into a shared buffer of 4 floats; transparent outside. */
export function sampleLight(light: Light, x: number, y: number): Float32Array {
  const { width, height, data } = light;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  if (x0 < 0 || y0 < 0 || x0 >= width - 1 || y0 >= height - 1) {
    sample.fill(0);
    return sample;
  }
  const fx = x - x0;
  const fy = y - y0;
  const a = (1 - fx) * (1 - fy);
  const b = fx * (1 - fy);
  const c = (1 - fx) * fy;
  const d = fx * fy;
  const at = (y0 * width + x0) * 4;
  const under = at + width * 4;
  sample[0] = data[at] * a + data[at + 4] * b + data[under] * c + data[under + 4] * d;
  sample[1] = data[at + 1] * a + data[at + 5] * b + data[under + 1] * c + data[under + 5] * d;
  sample[2] = data[at + 2] * a + data[at + 6] * b + data[under + 2] * c + data[under + 6] * d;
  sample[3] = data[at + 3] * a + data[at + 7] * b + data[under + 3] * c + data[under + 7] * d;
  return sample;
}

/** As sampleLight, for a picture that fills its frame: the edge goes on. */
export function sampleInside(light: Light, x: number, y: number): Float32Array {
  return sampleLight(
    light,
    Math.max(0, Math.min(light.width - 1.001, x)),
    Math.max(0, Math.min(light.height - 1.001, y)),
  );
}

/** Lays a sprite over the destination. */
export function drawLight(to: Light, from: Light, map: Affine, opacity = 1): void {
  const box = coveredBox(to, from, map);
  for (let y = box.top; y < box.bottom; y++) {
    for (let x = box.left; x < box.right; x++) {
      const s = sampleLight(from, map[0] * x + map[1] * y + map[2], map[3] * x + map[4] * y + map[5]);
      const alpha = s[3] * opacity;
      if (alpha <= 0) continue;
      const at = (y * to.width + x) * 4;
      const keep = 1 - alpha;
      to.data[at] = to.data[at] * keep + s[0] * opacity;
      to.data[at + 1] = to.data[at + 1] * keep + s[1] * opacity;
      to.data[at + 2] = to.data[at + 2] * keep + s[2] * opacity;
      to.data[at + 3] = to.data[at + 3] * keep + alpha;
    }
  }
}

/** Adds a soft round light, fading to nothing at `radius`. */
export function addGlow(
  to: Light,
  centre: readonly [number, number],
  radius: number,
  colour: readonly [number, number, number],
): void {
  const [cx, cy] = centre;
  for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(to.height, cy + radius); y++) {
    for (let x = Math.max(0, Math.floor(cx - radius)); x < Math.min(to.width, cx + radius); x++) {
      const r = ((x - cx) ** 2 + (y - cy) ** 2) / (radius * radius);
      if (r >= 1) continue;
      const amount = (1 - r) ** 2 * (0.25 + 0.75 * Math.exp(-r * 9));
      const at = (y * to.width + x) * 4;
      for (let c = 0; c < 3; c++) to.data[at + c] += colour[c] * amount;
    }
  }
}

function coveredBox(to: Light, from: Light, map: Affine) {
  const [a, b, c, d, e, f] = map;
  const det = a * e - b * d;
  const xs: number[] = [];
  const ys: number[] = [];
  for (const [u, v] of [
    [-1, -1],
    [from.width, -1],
    [-1, from.height],
    [from.width, from.height],
  ]) {
    xs.push((e * (u - c) - b * (v - f)) / det);
    ys.push((a * (v - f) - d * (u - c)) / det);
  }
  return {
    left: Math.max(0, Math.floor(Math.min(...xs))),
    right: Math.min(to.width, Math.ceil(Math.max(...xs)) + 1),
    top: Math.max(0, Math.floor(Math.min(...ys))),
    bottom: Math.min(to.height, Math.ceil(Math.max(...ys)) + 1),
  };
}

/** Linear 0–1 to sRGB 0–255, not rounded, from a fine table. */
const ENCODED = Float32Array.from({ length: 16385 }, (_, i) => linearToSrgb(i / 16384) * 255);

export function encodeLevel(linear: number): number {
  if (linear <= 0) return 0;
  if (linear >= 1) return 255;
  return ENCODED[(linear * 16384 + 0.5) | 0];
}

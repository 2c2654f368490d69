// What a picture hides, in AssemblyScript (a dialect of TypeScript). packages/core/src/settle/plain-masking.ts has
// the plain way, which gives the same to the bit, and says what is measured. Built by `npm run make-kernel` into
// packages/core/src/settle/masking-kernel.ts.

let width: i32 = 0;
let height: i32 = 0;
let side: i32 = 0;
let across: i32 = 0;
let down: i32 = 0;
let rgba: usize = 0; // u32
let out: usize = 0; // f32, pixels
let classes: usize = 0; // u8, pixels
let lights: usize = 0; // f32, squares: sums of the variance of luma
let colours: usize = 0; // f32, squares: and of colour

export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

/** Lays the memory out from `at` on. @returns its end; so much must be there. */
export function place(at: usize, w: i32, h: i32, squareSide: i32): usize {
  width = w;
  height = h;
  side = squareSide;
  across = (w + side - 1) / side;
  down = (h + side - 1) / side;
  const p = (<usize>(w * h) + 15) & ~15;
  const blocks = (<usize>(across * down) + 3) & ~3;
  rgba = at;
  out = rgba + p * 4;
  classes = out + p * 4;
  lights = classes + p;
  colours = lights + blocks * 4;
  return colours + blocks * 4;
}
export function rgbaAt(): usize {
  return rgba;
}
export function outAt(): usize {
  return out;
}
export function classesAt(): usize {
  return classes;
}
export function lightsAt(): usize {
  return lights;
}
export function coloursAt(): usize {
  return colours;
}

/** Adds the variances of the picture at rgbaAt. */
export function measure(): void {
  for (let by = 0, block = 0; by < down; by++) {
    for (let bx = 0; bx < across; bx++, block++) measureSquare(bx, by, block);
  }
}

// @ts-ignore: decorators are the language's own
@inline
function add(array: usize, block: i32, value: f64): void {
  const at = array + (<usize>block << 2);
  store<f32>(at, <f32>(<f64>load<f32>(at) + value));
}

function measureSquare(bx: i32, by: i32, block: i32): void {
  const right = min(width, (bx + 1) * side);
  const bottom = min(height, (by + 1) * side);
  let sum: f64 = 0;
  let blues: f64 = 0;
  let reds: f64 = 0;
  let squares: f64 = 0;
  let chromaSquares: f64 = 0;
  let count = 0;
  for (let y = by * side; y < bottom; y++) {
    for (let x = bx * side; x < right; x++, count++) {
      const word = load<u32>(rgba + (<usize>(y * width + x) << 2));
      const r = <f64>(word & 255);
      const b = <f64>((word >> 16) & 255);
      const luma = 0.299 * r + 0.587 * <f64>((word >> 8) & 255) + 0.114 * b;
      const blue = (b - luma) * 0.564;
      const red = (r - luma) * 0.713;
      sum += luma;
      blues += blue;
      reds += red;
      squares += luma * luma;
      chromaSquares += blue * blue + red * red;
    }
  }
  const n = <f64>count;
  const light = sum / n;
  const meanBlue = blues / n;
  const meanRed = reds / n;
  add(lights, block, Math.max(0, squares / n - light * light));
  add(colours, block, Math.max(0, (chromaSquares / n - meanBlue * meanBlue - meanRed * meanRed) / 2));
}

/** Spreads what stands at lightsAt (or coloursAt) over the pixels at outAt: bilinear between the squares' middles. */
export function spread(ofColours: bool): void {
  const blocks = ofColours ? colours : lights;
  const s = <f64>side;
  for (let y = 0, p = 0; y < height; y++) {
    const v = Math.max(0, Math.min(<f64>(down - 1), (<f64>y + 0.5) / s - 0.5));
    const y0 = <i32>Math.floor(v);
    const y1 = min(down - 1, y0 + 1);
    const fy = v - <f64>y0;
    const above = blocks + (<usize>(y0 * across) << 2);
    const below = blocks + (<usize>(y1 * across) << 2);
    for (let x = 0; x < width; x++, p++) {
      const u = Math.max(0, Math.min(<f64>(across - 1), (<f64>x + 0.5) / s - 0.5));
      const x0 = <i32>Math.floor(u);
      const x1 = min(across - 1, x0 + 1);
      const fx = u - <f64>x0;
      const a = <usize>x0 << 2;
      const b = <usize>x1 << 2;
      const high = <f64>load<f32>(above + a) * (1 - fx) + <f64>load<f32>(above + b) * fx;
      const low = <f64>load<f32>(below + a) * (1 - fx) + <f64>load<f32>(below + b) * fx;
      store<f32>(out + (<usize>p << 2), <f32>(high * (1 - fy) + low * fy));
    }
  }
}

/** The class of each share at outAt, as logarithms. */
export function classify(least: f64, step: f64, most: i32): void {
  for (let p = 0; p < width * height; p++) {
    const place = Math.round((<f64>load<f32>(out + (<usize>p << 2)) - least) / step);
    store<u8>(classes + p, <u8>Math.max(0, Math.min(<f64>most, place)));
  }
}

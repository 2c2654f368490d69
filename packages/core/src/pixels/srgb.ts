/**
 * The sRGB transfer function (IEC 61966-2-1:1999, 4.2 and 4.3) as tables.
 * Linear light is held as whole numbers 0–65535, so that a table can take it back.
 */

/** Largest linear value. */
export const LINEAR_MAX = 65535;

/** sRGB 0–1 to linear 0–1. */
export function srgbToLinear(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

/** Linear 0–1 to sRGB 0–1. */
export function linearToSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** sRGB byte to linear 0–65535. */
export const LINEAR_FROM_SRGB8: Float32Array = Float32Array.from(
  { length: 256 },
  (_, byte) => srgbToLinear(byte / 255) * LINEAR_MAX,
);

/** Linear 0–65535, rounded to a whole number, to sRGB byte. */
export const SRGB8_FROM_LINEAR: Uint8Array = bytesFromLinear();

/** The bytes only rise: each is filled in up to the last value that is rounded to it. */
function bytesFromLinear(): Uint8Array {
  const byteOf = (value: number) => Math.round(linearToSrgb(value / LINEAR_MAX) * 255);
  const bytes = new Uint8Array(LINEAR_MAX + 1);
  for (let byte = 0, from = 0; byte <= 255; byte++) {
    let end = byte === 255 ? LINEAR_MAX + 1 : Math.ceil(srgbToLinear((byte + 0.5) / 255) * LINEAR_MAX);
    // By the inverse, a rounding may put the end beside its place.
    while (end <= LINEAR_MAX && byteOf(end) <= byte) end++;
    while (byteOf(end - 1) > byte) end--;
    bytes.fill(byte, from, end);
    from = end;
  }
  return bytes;
}

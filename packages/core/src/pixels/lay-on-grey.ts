/** What is laid under pixels that can be seen through, where pictures are compared, levels. */
const GREY = 128;

/** RGBA8 pixels on middle grey; the very same where all of them are opaque. Alpha is left as it was laid. */
export function layOnGrey(rgba: Uint8Array): Uint8Array {
  let isOpaque = true;
  for (let i = 3; i < rgba.length && isOpaque; i += 4) isOpaque = rgba[i] === 255;
  if (isOpaque) return rgba;
  const laid = new Uint8Array(rgba.length);
  for (let i = 0; i < rgba.length; i++) {
    const alpha = rgba[i | 3] / 255;
    laid[i] = Math.round(rgba[i] * alpha + GREY * (1 - alpha));
  }
  return laid;
}

/** How much of what is not meant is left, and what it fades into: the pond's dark. */
const LEFT = 0.22;
const POND = [15, 40, 43] as const;

/** A copy of RGBA pixels in which everything but one colour is dim. @param colour as #rrggbb. */
export function onlyColour(rgba: Uint8Array, colour: string): Uint8ClampedArray<ArrayBuffer> {
  const wanted = [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16));
  const out = new Uint8ClampedArray(rgba.length);
  for (let i = 0; i < rgba.length; i += 4) {
    const isIt = rgba[i] === wanted[0] && rgba[i + 1] === wanted[1] && rgba[i + 2] === wanted[2];
    for (let c = 0; c < 3; c++) out[i + c] = isIt ? rgba[i + c] : POND[c] + (rgba[i + c] - POND[c]) * LEFT;
    out[i + 3] = rgba[i + 3];
  }
  return out;
}

/** The filters of PNG (W3C PNG, 9), and the way that takes for each row the one with the least sum. */
export const PNG_FILTERS = ['none', 'sub', 'up', 'average', 'paeth', 'adaptive'] as const;
export type PngFilter = (typeof PNG_FILTERS)[number];

const ADAPTIVE = PNG_FILTERS.indexOf('adaptive');

/**
 * Rows as they are put into a PNG: each with the number of its filter before it.
 * @param raw row-major, without gaps.
 * @param bytesPerPixel of which each byte is predicted by the one so many before it.
 */
export function filterRows(
  raw: Uint8Array,
  rowBytes: number,
  bytesPerPixel: number,
  filter: PngFilter,
): Uint8Array {
  const rows = raw.length / rowBytes;
  const out = new Uint8Array(rows * (rowBytes + 1));
  const wanted = PNG_FILTERS.indexOf(filter);
  const trials = wanted === ADAPTIVE ? Array.from({ length: ADAPTIVE }, () => new Uint8Array(rowBytes)) : [];
  for (let y = 0; y < rows; y++) {
    const row = raw.subarray(y * rowBytes, (y + 1) * rowBytes);
    const above = y === 0 ? null : raw.subarray((y - 1) * rowBytes, y * rowBytes);
    const at = y * (rowBytes + 1);
    if (wanted !== ADAPTIVE) {
      out[at] = wanted;
      filterRow(wanted, row, above, bytesPerPixel, out.subarray(at + 1, at + 1 + rowBytes));
      continue;
    }
    let least = Number.POSITIVE_INFINITY;
    for (const [number, trial] of trials.entries()) {
      filterRow(number, row, above, bytesPerPixel, trial);
      const sum = sumOfSigned(trial);
      if (sum >= least) continue;
      least = sum;
      out[at] = number;
    }
    out.set(trials[out[at]], at + 1);
  }
  return out;
}

/** Each byte as the distance from 0, either way round. */
function sumOfSigned(bytes: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < bytes.length; i++) sum += bytes[i] < 128 ? bytes[i] : 256 - bytes[i];
  return sum;
}

function filterRow(
  filter: number,
  row: Uint8Array,
  above: Uint8Array | null,
  bpp: number,
  out: Uint8Array,
): void {
  const length = row.length;
  switch (filter) {
    case 0:
      out.set(row);
      return;
    case 1:
      for (let i = 0; i < length; i++) out[i] = row[i] - (i < bpp ? 0 : row[i - bpp]);
      return;
    case 2:
      for (let i = 0; i < length; i++) out[i] = row[i] - (above ? above[i] : 0);
      return;
    case 3:
      for (let i = 0; i < length; i++) {
        const left = i < bpp ? 0 : row[i - bpp];
        out[i] = row[i] - ((left + (above ? above[i] : 0)) >> 1);
      }
      return;
    default:
      for (let i = 0; i < length; i++) {
        const left = i < bpp ? 0 : row[i - bpp];
        const up = above ? above[i] : 0;
        const corner = i < bpp || !above ? 0 : above[i - bpp];
        out[i] = row[i] - paeth(left, up, corner);
      }
  }
}

/** Of three neighbours the one that is nearest to where they lead (W3C PNG, 9.4). */
function paeth(left: number, up: number, corner: number): number {
  const a = Math.abs(up - corner);
  const b = Math.abs(left - corner);
  const c = Math.abs(left + up - 2 * corner);
  if (a <= b && a <= c) return left;
  return b <= c ? up : corner;
}

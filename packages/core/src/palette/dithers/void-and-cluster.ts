/**
 * Blue noise by void and cluster (Ulichney 1993, "The void-and-cluster method for dither array
 * generation"), on a tile that wraps round.
 *
 * @param side tile side in pixels.
 * @param random a source of numbers 0–1; the same source gives the same tile.
 * @returns rank of every pixel, 0 … side² − 1, row-major.
 */
export function voidAndCluster(side: number, random: () => number): Uint16Array {
  const count = side * side;
  const spread = makeSpread(side);
  const start = Math.max(1, Math.floor(count / 10));
  const on = new Uint8Array(count);
  const energy = new Float64Array(count);
  const put = (at: number, sign: 1 | -1) => {
    on[at] = sign === 1 ? 1 : 0;
    addEnergy(energy, spread, side, at, sign);
  };
  const extreme = (want: 0 | 1) => {
    let best = -1;
    for (let at = 0; at < count; at++) {
      if (on[at] !== want) continue;
      if (best < 0 || (want === 1 ? energy[at] > energy[best] : energy[at] < energy[best])) best = at;
    }
    return best;
  };

  let placed = 0;
  while (placed < start) {
    const at = Math.floor(random() * count);
    if (on[at]) continue;
    put(at, 1);
    placed++;
  }
  // Move the tightest cluster to the largest void until that changes nothing.
  for (;;) {
    const tightest = extreme(1);
    put(tightest, -1);
    const largest = extreme(0);
    put(largest, 1);
    if (largest === tightest) break;
  }

  const ranks = new Uint16Array(count);
  const seedOn = on.slice();
  const seedEnergy = energy.slice();
  for (let rank = start - 1; rank >= 0; rank--) {
    const tightest = extreme(1);
    put(tightest, -1);
    ranks[tightest] = rank;
  }
  on.set(seedOn);
  energy.set(seedEnergy);
  for (let rank = start; rank < count; rank++) {
    const largest = extreme(0);
    put(largest, 1);
    ranks[largest] = rank;
  }
  return ranks;
}

/** A Gaussian of 1.5 px around pixel 0, wrapping. */
function makeSpread(side: number): Float64Array {
  const spread = new Float64Array(side * side);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const dx = Math.min(x, side - x);
      const dy = Math.min(y, side - y);
      spread[y * side + x] = Math.exp(-(dx * dx + dy * dy) / (2 * 1.5 * 1.5));
    }
  }
  return spread;
}

function addEnergy(energy: Float64Array, spread: Float64Array, side: number, at: number, sign: number): void {
  const ax = at % side;
  const ay = (at - ax) / side;
  for (let y = 0; y < side; y++) {
    const row = ((y - ay + side) % side) * side;
    for (let x = 0; x < side; x++) {
      energy[y * side + x] += sign * spread[row + ((x - ax + side) % side)];
    }
  }
}

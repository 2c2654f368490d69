import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { decodeLzw } from './lzw-decoder.js';
import { LzwTree, minimumCodeBits, packIndices } from './lzw-tree.js';

/** The sub-blocks after the code size, joined. */
function joined(bytes: Uint8Array): Uint8Array {
  const data: number[] = [];
  let at = 1;
  while (bytes[at] > 0) {
    data.push(...bytes.subarray(at + 1, at + 1 + bytes[at]));
    at += bytes[at] + 1;
  }
  expect(at).toBe(bytes.length - 1);
  return Uint8Array.from(data);
}

describe('LZW', () => {
  for (let codeBits = 2; codeBits <= 8; codeBits++) {
    it(`comes back as it was: noise, runs and ramps, ${codeBits} bits (12 seeds)`, () => {
      for (let seed = 1; seed <= 12; seed++) {
        const random = seeded(seed * 100 + codeBits);
        const top = (1 << codeBits) - 1;
        const run = wholeFrom(random, 1, 40);
        let index = 0;
        const indices = Uint8Array.from({ length: wholeFrom(random, 1, 30_000) }, (_, i) => {
          if (seed % 3 === 0) return i % (top + 1);
          if (i % run === 0 || seed % 3 === 1) index = wholeFrom(random, 0, top);
          return index;
        });
        const bytes = packIndices(indices, codeBits);
        expect(bytes[0]).toBe(codeBits);
        const out = new Uint8Array(indices.length);
        expect(decodeLzw(joined(bytes), codeBits, out)).toBe(indices.length);
        expect(Buffer.compare(out, indices)).toBe(0);
      }
    });
  }

  it('comes back where strings are cut short at random (20 seeds)', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const random = seeded(seed);
      const codeBits = wholeFrom(random, 2, 8);
      const top = Math.min((1 << codeBits) - 1, wholeFrom(random, 1, 9));
      const indices = Uint8Array.from({ length: wholeFrom(random, 1, 20_000) }, () =>
        wholeFrom(random, 0, top),
      );
      const tree = new LzwTree(codeBits);
      for (let at = 0; at < indices.length; ) {
        tree.expect();
        let code = indices[at];
        let length = 1;
        // Any known string that fits may be written, not the longest alone.
        while (at + length < indices.length && random() < 0.8) {
          const longer = tree.children(code).find((child) => tree.symbol(child) === indices[at + length]);
          if (longer === undefined) break;
          code = longer;
          length++;
        }
        expect(tree.write(code)).toEqual([...indices.subarray(at, at + length)]);
        at += length;
      }
      const out = new Uint8Array(indices.length);
      expect(decodeLzw(joined(tree.finish()), codeBits, out), `seed ${seed}`).toBe(indices.length);
      expect(Buffer.compare(out, indices), `seed ${seed}`).toBe(0);
    }
  });

  it('packs a long run into little', () => {
    expect(packIndices(new Uint8Array(100_000), 2).length).toBeLessThan(700);
  });

  it('writes nothing but codes for an image without pixels', () => {
    expect(decodeLzw(joined(packIndices(new Uint8Array(0), 2)), 2, new Uint8Array(4))).toBe(0);
  });

  it('stops at a code that cannot be', () => {
    // Clear, then 7 before any entry beyond 5 exists.
    const data = Uint8Array.of(0b00_111_100, 0);
    expect(decodeLzw(data, 2, new Uint8Array(10))).toBe(0);
  });

  it('knows how many bits hold the indices', () => {
    expect([1, 2, 4, 5, 16, 17, 255, 256].map(minimumCodeBits)).toEqual([2, 2, 2, 3, 4, 5, 8, 8]);
  });
});

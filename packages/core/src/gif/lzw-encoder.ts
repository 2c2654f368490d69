import type { ByteSink } from './byte-sink.js';

/** Codes have at most 12 bits (GIF89a, appendix F). */
const MOST_CODES = 4096;
const SLOTS = 1 << 14;
const SLOT_SHIFT = 32 - 14;

/**
 * Variable-length-code LZW (Welch 1984, "A technique for high-performance data compression"; GIF89a,
 * appendix F), fed one index at a time, so that the caller can look at which strings are known
 * before it decides on an index.
 *
 * The dictionary is an open-addressing hash from (prefix code, index) to code. It is cleared as soon
 * as it is full.
 */
export class LzwEncoder {
  private readonly keys = new Int32Array(SLOTS);
  private readonly codes = new Uint16Array(SLOTS);
  private readonly clearCode: number;
  private nextCode = 0;
  private codeBits = 0;
  private pending = 0;
  private pendingBits = 0;
  private readonly block = new Uint8Array(255);
  private blockUsed = 0;
  /** Code of the string matched so far; −1 before the first index. */
  prefix = -1;

  /** @param minimumCodeBits 2–8: bits that hold every index, at least 2. */
  constructor(
    private readonly sink: ByteSink,
    private readonly minimumCodeBits: number,
  ) {
    this.clearCode = 1 << minimumCodeBits;
    this.codeBits = minimumCodeBits + 1;
    sink.u8(minimumCodeBits); // LZW Minimum Code Size
    this.clear();
  }

  /** The code of the matched string followed by `index`, or −1 when it is not known. */
  child(index: number): number {
    const key = ((this.prefix << 8) | index) + 1;
    const { keys } = this;
    let slot = Math.imul(key, 0x9e3779b1) >>> SLOT_SHIFT;
    while (keys[slot] !== 0) {
      if (keys[slot] === key) return this.codes[slot];
      slot = (slot + 1) & (SLOTS - 1);
    }
    return -1;
  }

  /** Ends the matched string before `index`, which begins the next one. */
  breakBefore(index: number): void {
    this.write(this.prefix);
    if (this.nextCode < MOST_CODES) {
      this.add(index);
      // The decoder's table is one entry behind; its codes widen when that entry arrives.
      if (this.nextCode > 1 << this.codeBits && this.codeBits < 12) this.codeBits++;
    } else {
      this.clear();
    }
    this.prefix = index;
  }

  /** Takes one index without looking for another choice. */
  take(index: number): void {
    if (this.prefix < 0) {
      this.prefix = index;
      return;
    }
    const known = this.child(index);
    if (known >= 0) this.prefix = known;
    else this.breakBefore(index);
  }

  /** Writes what is left, End of Information and the block terminator. */
  finish(): void {
    if (this.prefix >= 0) {
      this.write(this.prefix);
      // The decoder adds an entry for this code too, and may widen its codes for it.
      if (this.nextCode < MOST_CODES) {
        this.nextCode++;
        if (this.nextCode > 1 << this.codeBits && this.codeBits < 12) this.codeBits++;
      }
    }
    this.write(this.clearCode + 1); // End of Information
    while (this.pendingBits > 0) {
      this.byte(this.pending & 255);
      this.pending >>>= 8;
      this.pendingBits -= 8;
    }
    this.flushBlock();
    this.sink.u8(0); // Block Terminator
  }

  private clear(): void {
    this.keys.fill(0);
    this.write(this.clearCode);
    this.codeBits = this.minimumCodeBits + 1;
    this.nextCode = this.clearCode + 2;
  }

  private add(index: number): void {
    const key = ((this.prefix << 8) | index) + 1;
    const { keys } = this;
    let slot = Math.imul(key, 0x9e3779b1) >>> SLOT_SHIFT;
    while (keys[slot] !== 0) slot = (slot + 1) & (SLOTS - 1);
    keys[slot] = key;
    this.codes[slot] = this.nextCode++;
  }

  private write(code: number): void {
    this.pending |= code << this.pendingBits;
    this.pendingBits += this.codeBits;
    while (this.pendingBits >= 8) {
      this.byte(this.pending & 255);
      this.pending >>>= 8;
      this.pendingBits -= 8;
    }
  }

  private byte(value: number): void {
    this.block[this.blockUsed++] = value;
    if (this.blockUsed === 255) this.flushBlock();
  }

  private flushBlock(): void {
    if (this.blockUsed === 0) return;
    this.sink.u8(this.blockUsed); // Block Size
    this.sink.put(this.block.subarray(0, this.blockUsed));
    this.blockUsed = 0;
  }
}

/** Bits that hold `count` indices; at least 2, also for one colour (GIF89a, 22). */
export function minimumCodeBits(count: number): number {
  return Math.max(2, Math.ceil(Math.log2(count)));
}

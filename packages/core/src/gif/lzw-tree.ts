import { ByteSink } from './byte-sink.js';

/** Codes have at most 12 bits (GIF89a, appendix F). */
const MOST_CODES = 4096;

/**
 * Variable-length-code LZW (Welch 1984, "A technique for high-performance data compression"; GIF89a, appendix
 * F) whose caller looks through the known strings and chooses the next one; it may be shorter than the
 * longest that fits. The dictionary is a tree, cleared as soon as it is full.
 */
export class LzwTree {
  private readonly sink = new ByteSink();
  private readonly bits: CodeBits;
  private childLists: number[][] = [];
  private parents: number[] = [];
  private symbols: number[] = [];
  private nextCode = 0;
  private previous = -1;
  /** Whether the entry that the last string will create was already added, see `expect`. */
  private isAhead = false;

  /** @param minimumCodeBits 2–8: bits that hold every index, at least 2. */
  constructor(private readonly minimumCodeBits: number) {
    this.sink.u8(minimumCodeBits); // LZW Minimum Code Size
    this.bits = new CodeBits(this.sink, minimumCodeBits + 1);
    this.clear();
  }

  /** The known strings that are one index longer; the newest first. */
  children(code: number): readonly number[] {
    return this.childLists[code];
  }

  /** The last index of a string. */
  symbol(code: number): number {
    return this.symbols[code];
  }

  /**
   * To be called before a string is looked for: the entry that the last one will make is known already where
   * the next begins as that did.
   */
  expect(): void {
    if (this.previous < 0 || this.nextCode >= MOST_CODES) return;
    const first = this.stringOf(this.previous)[0];
    this.isAhead = !this.has(this.previous, first);
    if (this.isAhead) this.add(this.previous, first);
  }

  /** Writes a string. @returns its indices. */
  write(code: number): readonly number[] {
    const string = this.stringOf(code);
    if (this.previous >= 0 && this.nextCode < MOST_CODES) {
      if (this.isAhead && string[0] !== this.symbols[this.nextCode]) {
        this.childLists[this.previous].shift();
        this.isAhead = false;
      }
      if (!this.isAhead && !this.has(this.previous, string[0])) this.add(this.previous, string[0]);
      this.isAhead = false;
      this.count();
    }
    this.bits.put(code);
    this.previous = code;
    if (this.nextCode >= MOST_CODES) this.clear();
    return string;
  }

  /** End of Information and the block terminator. @returns all bytes. */
  finish(): Uint8Array {
    // The decoder adds an entry for the last code too, and may widen its codes for it.
    if (this.previous >= 0 && this.nextCode < MOST_CODES) this.count();
    this.bits.put((1 << this.minimumCodeBits) + 1); // End of Information
    this.bits.finish();
    return this.sink.take();
  }

  private clear(): void {
    const clearCode = 1 << this.minimumCodeBits;
    this.bits.put(clearCode);
    this.bits.width = this.minimumCodeBits + 1;
    this.nextCode = clearCode + 2;
    this.previous = -1;
    this.symbols = Array.from({ length: clearCode }, (_, index) => index);
    this.parents = new Array<number>(clearCode).fill(-1);
    this.childLists = this.symbols.map(() => []);
  }

  private has(code: number, index: number): boolean {
    return this.childLists[code].some((child) => this.symbols[child] === index);
  }

  private add(code: number, index: number): void {
    const child = this.nextCode;
    this.childLists[code].unshift(child);
    this.childLists[child] = [];
    this.symbols[child] = index;
    this.parents[child] = code;
  }

  /** Counts the entry that the decoder makes, and widens the codes when it arrives there. */
  private count(): void {
    this.nextCode++;
    if (this.nextCode > 1 << this.bits.width && this.bits.width < 12) this.bits.width++;
  }

  private stringOf(code: number): number[] {
    const string: number[] = [];
    for (let at = code; at >= 0; at = this.parents[at]) string.unshift(this.symbols[at]);
    return string;
  }
}

/** Bits that hold `count` indices; at least 2, also for one colour (GIF89a, 22). */
export function minimumCodeBits(count: number): number {
  return Math.max(2, Math.ceil(Math.log2(count)));
}

/** LZW data of indices as they are, each string the longest that is known. @param codeBits as LzwTree takes them. */
export function packIndices(indices: ArrayLike<number>, codeBits: number): Uint8Array {
  const tree = new LzwTree(codeBits);
  for (let at = 0; at < indices.length; ) {
    tree.expect();
    let code = indices[at++];
    for (;;) {
      const longer = tree.children(code).find((child) => tree.symbol(child) === indices[at]);
      if (longer === undefined || at === indices.length) break;
      code = longer;
      at++;
    }
    tree.write(code);
  }
  return tree.finish();
}

/** Codes as bits, least significant first, in sub-blocks of up to 255 bytes (GIF89a, 15). */
class CodeBits {
  private pending = 0;
  private pendingBits = 0;
  private readonly block: number[] = [];

  /** @param width bits of the codes that follow. */
  constructor(
    private readonly sink: ByteSink,
    public width: number,
  ) {}

  put(code: number): void {
    this.pending |= code << this.pendingBits;
    this.pendingBits += this.width;
    while (this.pendingBits >= 8) {
      this.byte(this.pending & 255);
      this.pending >>>= 8;
      this.pendingBits -= 8;
    }
  }

  /** What is left, and the block terminator. */
  finish(): void {
    if (this.pendingBits > 0) this.byte(this.pending & 255);
    this.flush();
    this.sink.u8(0); // Block Terminator
  }

  private byte(value: number): void {
    if (this.block.push(value) === 255) this.flush();
  }

  private flush(): void {
    if (this.block.length === 0) return;
    this.sink.u8(this.block.length); // Block Size
    this.sink.put(Uint8Array.from(this.block));
    this.block.length = 0;
  }
}

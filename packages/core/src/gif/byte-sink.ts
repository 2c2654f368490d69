/** A growing buffer with a writing position. */
export class ByteSink {
  private bytes = new Uint8Array(1 << 14);
  private used = 0;

  /** Bytes written so far. */
  get length(): number {
    return this.used;
  }

  /** One unsigned byte. */
  u8(value: number): void {
    this.reserve(1);
    this.bytes[this.used++] = value;
  }

  /** Two bytes, least significant first (GIF89a, 12). */
  u16(value: number): void {
    this.reserve(2);
    this.bytes[this.used++] = value & 255;
    this.bytes[this.used++] = value >> 8;
  }

  /** Writes two bytes over what stands at a position. */
  patchU16(at: number, value: number): void {
    this.bytes[at] = value & 255;
    this.bytes[at + 1] = value >> 8;
  }

  ascii(text: string): void {
    for (let i = 0; i < text.length; i++) this.u8(text.charCodeAt(i));
  }

  put(chunk: Uint8Array): void {
    this.reserve(chunk.length);
    this.bytes.set(chunk, this.used);
    this.used += chunk.length;
  }

  /** A view of all that was written. */
  take(): Uint8Array {
    return this.bytes.subarray(0, this.used);
  }

  clear(): void {
    this.used = 0;
  }

  private reserve(count: number): void {
    if (this.used + count <= this.bytes.length) return;
    const grown = new Uint8Array(Math.max(this.bytes.length * 2, this.used + count));
    grown.set(this.bytes.subarray(0, this.used));
    this.bytes = grown;
  }
}

/** Bitmaps are closed explicitly: garbage collection does not count their memory. */
interface Entry {
  leases: number;
  isRetired: boolean;
}

/**
 * Bitmaps that several may show: they are closed when they are retired and the last lease has ended, whichever
 * comes later.
 */
export class BitmapLeases<Pictures extends object> {
  private readonly entries = new WeakMap<Pictures, Entry>();

  constructor(private readonly bitmapsOf: (pictures: Pictures) => readonly ImageBitmap[]) {}

  /** @returns what ends the lease; null where the bitmaps are closed already. */
  take(pictures: Pictures): (() => void) | null {
    const entry = this.entries.get(pictures) ?? { leases: 0, isRetired: false };
    if (entry.isRetired && entry.leases === 0) return null;
    this.entries.set(pictures, entry);
    entry.leases++;
    let isOver = false;
    return () => {
      if (isOver) return;
      isOver = true;
      entry.leases--;
      this.closeUnused(pictures, entry);
    };
  }

  /** No new lease can be taken from here on. */
  retire(pictures: Pictures): void {
    const entry = this.entries.get(pictures) ?? { leases: 0, isRetired: false };
    this.entries.set(pictures, entry);
    entry.isRetired = true;
    this.closeUnused(pictures, entry);
  }

  private closeUnused(pictures: Pictures, { leases, isRetired }: Entry): void {
    if (isRetired && leases === 0) for (const bitmap of this.bitmapsOf(pictures)) bitmap.close();
  }
}

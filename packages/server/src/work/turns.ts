/**
 * Lets a few run at once; the rest wait their turn. The newest is served first, since it is what the hand
 * asked for last; work in the background waits behind all of those.
 */
export class Turns {
  private running = 0;
  private readonly urgent: (() => void)[] = [];
  private readonly background: (() => void)[] = [];

  constructor(private readonly most: number) {}

  async run<T>(task: () => Promise<T>, urgency: 'urgent' | 'background' = 'urgent'): Promise<T> {
    if (this.running >= this.most) {
      await new Promise<void>((resolve) => this[urgency].push(resolve));
    } else this.running++;
    try {
      return await task();
    } finally {
      const next = this.urgent.pop() ?? this.background.shift();
      if (next) next();
      else this.running--;
    }
  }
}

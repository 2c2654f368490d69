/**
 * Lets a few run at once; the rest wait their turn. The newest is served first, since it is what the hand
 * asked for last; work in the background waits behind all of those, and leaves a place free for them where there is
 * more than one.
 */
export class Turns {
  private running = 0;
  private inBackground = 0;
  private readonly urgent: (() => void)[] = [];
  private readonly background: (() => void)[] = [];
  private readonly mostInBackground: number;

  constructor(private readonly most: number) {
    this.mostInBackground = Math.max(1, most - 1);
  }

  run<T>(task: () => Promise<T>, urgency: 'urgent' | 'background' = 'urgent'): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      const start = () => {
        if (urgency === 'background') this.inBackground++;
        this.running++;
        task()
          .then(resolve, reject)
          .finally(() => {
            if (urgency === 'background') this.inBackground--;
            this.running--;
            this.serve();
          });
      };
      this[urgency].push(start);
      this.serve();
    });
  }

  private serve(): void {
    while (this.running < this.most) {
      const next =
        this.urgent.pop() ??
        (this.inBackground < this.mostInBackground ? this.background.shift() : undefined);
      if (!next) return;
      next();
    }
  }
}

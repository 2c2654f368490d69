import { UserError } from '@muted-pond/core/errors';

/** Counts the time that is spent working, not that in which nobody asks for more. */
export class TimeLimit {
  private usedMs = 0;
  private since: number | null = null;
  private timer: NodeJS.Timeout | null = null;

  /** @param onOver is called when the time is used up while it counts. */
  constructor(
    private readonly limitMs: number,
    private readonly onOver: () => void = () => {},
  ) {}

  begin(): void {
    if (this.since !== null) return;
    this.since = performance.now();
    this.timer = setTimeout(this.onOver, Math.max(0, this.limitMs - this.usedMs));
    this.timer.unref();
  }

  pause(): void {
    if (this.since === null) return;
    this.usedMs += performance.now() - this.since;
    this.since = null;
    if (this.timer) clearTimeout(this.timer);
  }

  get isOver(): boolean {
    const running = this.since === null ? 0 : performance.now() - this.since;
    return this.usedMs + running >= this.limitMs;
  }

  error(): UserError {
    return new UserError(
      'too_slow',
      `Reading this file took longer than ${Math.round(this.limitMs / 1000)} s and was stopped. Try a shorter or smaller version of it.`,
    );
  }
}

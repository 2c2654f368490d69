import PQueue from 'p-queue';

/** How much somebody waits for it; what the hand waits for goes first. */
export const PRIORITY = { hand: 40, trial: 30, fit: 20, batch: 10, background: 0 } as const;
export type Priority = keyof typeof PRIORITY;

export interface TaskOptions {
  readonly priority: number;
  /** Whose it is: at one priority, whoever has waited longest since the last turn is next. */
  readonly owner: string;
}

type Run = () => Promise<unknown>;

interface Waiting extends TaskOptions {
  readonly run: Run;
  readonly number: number;
}

/**
 * The order of waiting tasks: by priority, then in turns between owners, then as they came; or the newest
 * first, for what follows the hand. Tasks behind the hand and its trials leave one place free for those,
 * where there is more than one.
 */
export class WaitingTasks {
  private waiting: Waiting[] = [];
  private readonly served = new Map<string, number>();
  private count = 0;
  private behindRunning = 0;

  constructor(
    private readonly concurrency: number,
    private readonly newestFirst: boolean,
  ) {}

  /** How many may begin now. */
  get size(): number {
    return this.ready().length;
  }

  enqueue(run: Run, options: Partial<TaskOptions> = {}): void {
    const { priority = PRIORITY.hand, owner = '' } = options;
    this.waiting.push({ run, priority, owner, number: this.count++ });
  }

  dequeue(): Run | undefined {
    const next = this.ready().reduce<Waiting | null>(
      (best, task) => (best === null || this.isBefore(task, best) ? task : best),
      null,
    );
    if (!next) return undefined;
    this.waiting = this.waiting.filter((task) => task !== next);
    this.served.set(next.owner, this.count++);
    if (isBehind(next)) this.behindRunning++;
    return next.run;
  }

  /** A task that was given out has ended. */
  ended(task: Pick<TaskOptions, 'priority'>): void {
    if (isBehind(task)) this.behindRunning--;
  }

  filter({ priority }: Partial<TaskOptions>): Run[] {
    return this.waiting.filter((task) => task.priority === priority).map(({ run }) => run);
  }

  setPriority(): void {
    throw new Error('Tasks keep the priority that they came with.');
  }

  private ready(): Waiting[] {
    const hasRoomBehind = this.behindRunning < Math.max(1, this.concurrency - 1);
    return hasRoomBehind ? this.waiting : this.waiting.filter((task) => !isBehind(task));
  }

  private isBefore(one: Waiting, other: Waiting): boolean {
    if (one.priority !== other.priority) return one.priority > other.priority;
    if (this.newestFirst) return one.number > other.number;
    const [mine, others] = [one, other].map(({ owner }) => this.served.get(owner) ?? -1);
    return mine === others ? one.number < other.number : mine < others;
  }
}

/** Whether it leaves a place free for the hand and its trials. */
function isBehind({ priority }: Pick<TaskOptions, 'priority'>): boolean {
  return priority < PRIORITY.trial;
}

/** Runs a few tasks at once; the rest wait in their order. */
export class TaskQueue {
  private readonly queue: PQueue;
  private readonly waiting: WaitingTasks;

  /** @param order `newest` serves what was asked for last before what was asked for earlier. */
  constructor(concurrency: number, order: 'fair' | 'newest' = 'newest') {
    const waiting = new WaitingTasks(concurrency, order === 'newest');
    this.waiting = waiting;
    // The queue makes its own list: it is given this one.
    const queueClass = class {
      constructor() {
        // biome-ignore lint/correctness/noConstructorReturn: see above
        return waiting;
      }
    };
    this.queue = new PQueue({ concurrency, queueClass: queueClass as never });
  }

  run<Result>(task: () => Promise<Result>, priority: Priority = 'hand', owner = ''): Promise<Result> {
    const options = { priority: PRIORITY[priority], owner };
    const counted = async () => {
      try {
        return await task();
      } finally {
        this.waiting.ended(options);
      }
    };
    return this.queue.add(counted, options as never) as Promise<Result>;
  }
}

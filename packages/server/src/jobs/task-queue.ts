import PQueue, { type Queue } from 'p-queue';

/** How urgent a task is; what somebody waits for goes first. */
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

/** What of the running tasks the order depends on. */
export interface RunningTasks {
  /** How many of those run that leave a place free for the hand and its trials. */
  behind: number;
}

interface TaskOrder {
  readonly concurrency: number;
  /** Whether what was asked for last goes first. */
  readonly newestFirst: boolean;
  /** The queue counts up when it gives a task out; whoever runs the task counts down. */
  readonly running: RunningTasks;
}

/**
 * The order of waiting tasks: by priority, then in turns between owners, then as they came; or the newest
 * first, for what follows the hand. Tasks behind the hand and its trials leave one place free for those,
 * where there is more than one.
 */
export class WaitingTasks implements Queue<Run, TaskOptions> {
  private waiting: Waiting[] = [];
  private readonly served = new Map<string, number>();
  private count = 0;

  constructor(private readonly order: TaskOrder) {}

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
    if (isBehind(next)) this.order.running.behind++;
    return next.run;
  }

  filter({ priority }: Partial<TaskOptions>): Run[] {
    return this.waiting.filter((task) => task.priority === priority).map(({ run }) => run);
  }

  setPriority(): void {
    throw new Error('Tasks keep the priority that they came with.');
  }

  private ready(): Waiting[] {
    const { concurrency, running } = this.order;
    const hasRoomBehind = running.behind < Math.max(1, concurrency - 1);
    return hasRoomBehind ? this.waiting : this.waiting.filter((task) => !isBehind(task));
  }

  private isBefore(one: Waiting, other: Waiting): boolean {
    if (one.priority !== other.priority) return one.priority > other.priority;
    if (this.order.newestFirst) return one.number > other.number;
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
  private readonly running: RunningTasks = { behind: 0 };
  private readonly queue: PQueue<WaitingTasks, TaskOptions>;

  /** @param order `newest` serves what was asked for last before what was asked for earlier. */
  constructor(concurrency: number, order: 'fair' | 'newest' = 'newest') {
    const { running } = this;
    const queueClass = class extends WaitingTasks {
      constructor() {
        super({ concurrency, newestFirst: order === 'newest', running });
      }
    };
    this.queue = new PQueue({ concurrency, queueClass });
  }

  run<Result>(task: () => Promise<Result>, priority: Priority = 'hand', owner = ''): Promise<Result> {
    const options: TaskOptions = { priority: PRIORITY[priority], owner };
    const counted = async () => {
      try {
        return await task();
      } finally {
        if (isBehind(options)) this.running.behind--;
      }
    };
    return this.queue.add(counted, options);
  }
}

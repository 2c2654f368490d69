import { UserError } from '@muted-pond/core/errors';
import type { SeamMessage, SeamReply } from './seam-work.js';

/** The part of a Worker that is used; tests give their own. */
export interface SeamWorker {
  postMessage(message: SeamMessage): void;
  terminate(): void;
  onmessage: ((event: MessageEvent<SeamReply>) => void) | null;
  onerror: ((event: ErrorEvent) => void) | null;
}

type Footage = Extract<SeamMessage, { type: 'footage' }>;
type Question = Extract<SeamMessage, { type: 'question' }>;
type CommonRound = Extract<SeamMessage, { type: 'common-round' }>;
/** Part of the answer to a question. */
export type SeamPart = Exclude<SeamReply, { type: 'common-round' }>;

export interface SeamClientDoors {
  open(): SeamWorker;
  /** In their order; the question counts as answered once its joint is measured, or cannot be. */
  answered(part: SeamPart): void;
  /** The worker failed again and again: no answer will come until something else is asked. */
  failed(): void;
}

/** A worker that ended so often without an answer is not started again for the same question. */
const MOST_CRASHES = 3;

type Found = Extract<SeamReply, { type: 'common-round' }>['found'];

/**
 * Talks to the seam worker. One that crashes is started anew and asked again what it had not answered; after
 * a few crashes in a row that is told instead, and the next question tries once more.
 */
export class SeamClient {
  private worker: SeamWorker | null = null;
  private asked: Question | null = null;
  private readonly rounds: {
    message: CommonRound;
    resolve: (found: Found) => void;
    reject: (error: Error) => void;
  }[] = [];
  private crashes = 0;
  private ended = false;

  constructor(
    private readonly footage: Footage,
    private readonly doors: SeamClientDoors,
  ) {}

  /** Whether an answer is on its way. */
  get isBusy(): boolean {
    return this.asked !== null;
  }

  ask(message: Question): void {
    this.asked = message;
    this.send(message);
  }

  /** @throws Error with a sentence when the worker fails, or this is ended before it answers. */
  commonRound(message: CommonRound): Promise<Found> {
    return new Promise((resolve, reject) => {
      this.rounds.push({ message, resolve, reject });
      this.send(message);
    });
  }

  end(): void {
    this.ended = true;
    this.worker?.terminate();
    this.giveUpRounds('The span was changed while loops were looked for. Look again.');
  }

  private send(message: SeamMessage): void {
    if (this.ended) return;
    this.worker ??= this.start();
    this.worker.postMessage(message);
  }

  private start(): SeamWorker {
    const worker = this.doors.open();
    worker.onmessage = ({ data }) => this.take(data);
    worker.onerror = () => this.crashed(worker);
    worker.postMessage(this.footage);
    return worker;
  }

  private take(reply: SeamReply): void {
    this.crashes = 0;
    if (reply.type === 'common-round') {
      const waiting = this.rounds.shift();
      if (reply.problem === null) waiting?.resolve(reply.found);
      else waiting?.reject(new UserError('internal', reply.problem));
      return;
    }
    if (reply.type === 'measured' || reply.type === 'unmeasured') this.asked = null;
    this.doors.answered(reply);
  }

  private crashed(worker: SeamWorker): void {
    if (worker !== this.worker || this.ended) return;
    worker.terminate();
    this.worker = null;
    if (++this.crashes >= MOST_CRASHES) {
      this.crashes = 0;
      this.asked = null;
      this.giveUpRounds('Looking for loops ended again and again. Shorten the span, or reload this page.');
      this.doors.failed();
      return;
    }
    if (this.asked) this.send(this.asked);
    for (const { message } of this.rounds) this.send(message);
  }

  private giveUpRounds(reason: string): void {
    for (const { reject } of this.rounds.splice(0)) reject(new UserError('internal', reason));
  }
}

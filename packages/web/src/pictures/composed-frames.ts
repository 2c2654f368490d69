import { UserError } from '@muted-pond/core/errors';
import type { Recipe, SourceFile } from '@muted-pond/core/recipe';
import type { Weaves } from '@muted-pond/core/render';
import { LRUCache } from 'lru-cache';
import type { ComposeMessage } from '../workers/compose-work.js';
import {
  bitmapsOf,
  type ComposedPictures,
  type ComposeReply,
  type HeldPictures,
  type LookPictures,
} from '../workers/composed-pictures.js';
import { BitmapLeases } from './bitmap-leases.js';

/** What is composed: a recipe at the width of the stage, over its files. The same object is the same plan. */
export interface StagePlan {
  readonly recipe: Recipe;
  readonly files: readonly SourceFile[];
  /** What of it is woven, as it was made last. */
  readonly weaves: Weaves;
  /** Whether what lies on each other is wanted apart. */
  readonly layers: boolean;
  /** Whether a drag is under way. */
  readonly isDraft: boolean;
  /** The one frame of the take that it shows; null for the loop. */
  readonly single: number | null;
}

/** The part of a Worker that is used; tests give their own. */
export interface ComposeWorker {
  postMessage(message: ComposeMessage): void;
  terminate(): void;
  onmessage: ((event: MessageEvent<ComposeReply>) => void) | null;
  onerror: ((event: ErrorEvent) => void) | null;
}

/** Pictures kept, bytes. */
const MOST_BYTES = 192 * 1024 ** 2;
/** A worker that ended so often without an answer is not started again for the same plan. */
const MOST_CRASHES = 3;

interface Waiting<Result> {
  readonly promise: Promise<Result>;
  readonly resolve: (result: Result) => void;
  readonly reject: (error: Error) => void;
}

/** Places of the reel as the steps make them, from a worker; one plan at a time. */
export class ComposedFrames {
  private worker: ComposeWorker | null = null;
  private plan: StagePlan | null = null;
  private heldNow: HeldPictures | null = null;
  private id = 0;
  /** The plan of which something has been shown. */
  private answeredPlan = 0;
  private readonly firstWaiting: (() => void)[] = [];
  private crashes = 0;
  private readonly waiting = new Map<number, Waiting<ComposedPictures>>();
  private waitingLooks: Waiting<LookPictures> | null = null;
  /** Why places cannot be made; asked for again only under another plan. */
  private readonly problems = new Map<number, string>();
  private readonly kept = new LRUCache<number, ComposedPictures>({
    maxSize: MOST_BYTES,
    sizeCalculation: (pictures) =>
      bitmapsOf(pictures).reduce((sum, { width, height }) => sum + width * height * 4, 0),
    dispose: (pictures) => this.places.retire(pictures),
  });
  private readonly places = new BitmapLeases<ComposedPictures>(bitmapsOf);
  private readonly holdings = new BitmapLeases<HeldPictures>(({ plate, masks }) => [plate, ...masks]);

  constructor(private readonly openWorker: () => ComposeWorker) {}

  /** What the plan holds; null where it holds nothing, or until a place with layers is there. */
  held(plan: StagePlan): HeldPictures | null {
    return plan === this.plan ? this.heldNow : null;
  }

  /**
   * Keeps a place and what is held from being closed for as long as they are shown, also under another plan.
   * @returns what ends it; null where they are closed already.
   */
  lease(pictures: ComposedPictures, held: HeldPictures | null): (() => void) | null {
    const ends = [this.places.take(pictures), ...(held ? [this.holdings.take(held)] : [])];
    const endAll = () => {
      for (const end of ends) end?.();
    };
    if (!ends.includes(null)) return endAll;
    endAll();
    return null;
  }

  /** The place if it is there now. */
  get(plan: StagePlan, place: number): ComposedPictures | null {
    return plan === this.plan ? (this.kept.get(place) ?? null) : null;
  }

  /**
   * Asks for a place.
   * @throws Error with a sentence when it cannot be made, or another plan is asked for first.
   */
  load(plan: StagePlan, place: number): Promise<ComposedPictures> {
    this.take(plan);
    const there = this.kept.get(place);
    if (there) return Promise.resolve(there);
    const already = this.waiting.get(place);
    if (already) return already.promise;
    const problem = this.problems.get(place);
    if (problem !== undefined) return Promise.reject(new UserError('frame_unreadable', problem));
    const waiting = promised<ComposedPictures>();
    this.waiting.set(place, waiting);
    if (this.crashes < MOST_CRASHES) this.ask(place);
    else this.refuse(place, 'Composing this picture ended again and again. Reload this page.');
    return waiting.promise;
  }

  /** Resolves when the first picture of the plan is there or has failed; at once for another plan. */
  firstAnswer(plan: StagePlan): Promise<void> {
    if (plan !== this.plan || this.answeredPlan === this.id || !this.worker) return Promise.resolve();
    return new Promise((resolve) => this.firstWaiting.push(resolve));
  }

  private tellFirst(): void {
    this.answeredPlan = this.id;
    for (const tell of this.firstWaiting.splice(0)) tell();
  }

  /** A small picture of a place in each look. @throws as `load` does. */
  looks(plan: StagePlan, place: number): Promise<LookPictures> {
    this.take(plan);
    this.waitingLooks?.reject(new UserError('frame_unreadable', 'Something else is shown now.'));
    const waiting = promised<LookPictures>();
    this.waitingLooks = waiting;
    this.worker ??= this.start();
    this.worker.postMessage({ type: 'looks', plan: this.id, place });
    return waiting.promise;
  }

  end(): void {
    this.worker?.terminate();
    this.worker = null;
    this.forget();
    this.plan = null;
  }

  private take(plan: StagePlan): void {
    if (plan === this.plan) return;
    this.forget();
    this.plan = plan;
    this.crashes = 0;
    this.id++;
    for (const tell of this.firstWaiting.splice(0)) tell();
    if (this.worker) this.tellPlan(this.worker, plan);
  }

  private forget(): void {
    this.kept.clear();
    if (this.heldNow) this.holdings.retire(this.heldNow);
    this.heldNow = null;
    this.problems.clear();
    for (const place of this.waiting.keys()) this.refuse(place, 'Something else is shown now.');
    this.refuseLooks('Something else is shown now.');
  }

  private refuse(place: number, problem: string): void {
    this.waiting.get(place)?.reject(new UserError('frame_unreadable', problem));
    this.waiting.delete(place);
  }

  private refuseLooks(problem: string): void {
    this.waitingLooks?.reject(new UserError('frame_unreadable', problem));
    this.waitingLooks = null;
  }

  private ask(place: number): void {
    this.worker ??= this.start();
    this.worker.postMessage({ type: 'show', plan: this.id, place, layers: this.plan?.layers ?? false });
  }

  private tellPlan(worker: ComposeWorker, { recipe, files, weaves, isDraft }: StagePlan): void {
    worker.postMessage({ type: 'plan', plan: this.id, recipe, files, weaves, isDraft });
  }

  private start(): ComposeWorker {
    const worker = this.openWorker();
    worker.onmessage = ({ data }) => this.answered(data);
    worker.onerror = () => this.crashed(worker);
    if (this.plan) this.tellPlan(worker, this.plan);
    return worker;
  }

  private answered(reply: ComposeReply): void {
    // The plan it was asked for is not shown any more.
    if (reply.plan !== this.id) {
      closeReply(reply);
      return;
    }
    this.crashes = 0;
    if (reply.type === 'composed' || reply.type === 'failed') this.tellFirst();
    if (reply.type === 'held') {
      if (this.heldNow) this.holdings.retire(this.heldNow);
      this.heldNow = reply.held;
      return;
    }
    if (reply.type === 'looks') {
      if (this.waitingLooks) this.waitingLooks.resolve(reply.looks);
      else closeReply(reply);
      this.waitingLooks = null;
      return;
    }
    if (reply.type === 'failed') {
      this.problems.set(reply.place, reply.problem);
      this.refuse(reply.place, reply.problem);
      return;
    }
    this.kept.set(reply.place, reply.pictures);
    this.waiting.get(reply.place)?.resolve(reply.pictures);
    this.waiting.delete(reply.place);
  }

  private crashed(worker: ComposeWorker): void {
    if (worker !== this.worker) return;
    worker.terminate();
    this.worker = null;
    this.crashes++;
    this.refuseLooks('Composing these pictures ended.');
    this.tellFirst();
    for (const place of [...this.waiting.keys()]) {
      if (this.crashes < MOST_CRASHES) this.ask(place);
      else this.refuse(place, 'Composing this picture ended again and again. Reload this page.');
    }
  }
}

/** Closes what an answer brought that nobody waits for. */
function closeReply(reply: ComposeReply): void {
  for (const bitmap of bitmapsIn(reply)) bitmap.close();
}

function bitmapsIn(reply: ComposeReply): readonly ImageBitmap[] {
  switch (reply.type) {
    case 'held':
      return [reply.held.plate, ...reply.held.masks];
    case 'composed':
      return bitmapsOf(reply.pictures);
    case 'looks':
      return Object.values(reply.looks);
    case 'failed':
      return [];
  }
}

function promised<Result>(): Waiting<Result> {
  let settle: Pick<Waiting<Result>, 'resolve' | 'reject'> | null = null;
  const promise = new Promise<Result>((resolve, reject) => {
    settle = { resolve, reject };
  });
  // Whoever does not wait for it need not hear of it.
  promise.catch(() => {});
  return { promise, ...(settle as unknown as Pick<Waiting<Result>, 'resolve' | 'reject'>) };
}

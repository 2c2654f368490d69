import type { BesideRequest, SendingItem, SendingView, SendRequest, TrialView } from '@muted-pond/core/api';
import { type FileKindId, fileKind, TRIED_KINDS } from '@muted-pond/core/files';
import { changeWeigh, checkLimit, type Limit, type Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import { FIT_WORKER } from '../fit/index.js';
import { JobPool, Jobs, nextRevision, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import { LimitsService } from '../limits/index.js';
import type { FitTask, FittedFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { notFound, Problem, toProblem } from '../problems/index.js';
import { TrialsService } from '../trials/index.js';
import { PracticeHost } from './practice-host.service.js';
import { HostRefusal, LineBroke, sendFile } from './send-file.js';

/** Addresses of broken-off sendings that are remembered. */
const MOST_REMEMBERED = 200;

interface Sent {
  readonly trial: TrialView;
  readonly path: string;
}

/** Sends a piece's file to places, one after the other; each gets a file that it takes, where that is wished. */
@Injectable()
export class SendingService {
  private readonly sendings: PieceJobs<SendRequest, SendingView>;
  /** Where what has arrived of a file lies, by place and file. */
  private readonly arrived = new LRUCache<string, string>({ max: MOST_REMEMBERED });

  constructor(
    @Inject(PracticeHost) private readonly host: PracticeHost,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(LimitsService) private readonly limits: LimitsService,
    @Inject(JobPool) private readonly pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.sendings = new PieceJobs<SendRequest, SendingView>(jobs, {
      name: 'sending',
      priority: 'fit',
      first: (piece, { places }) => ({
        ...{ piece, state: 'working', problem: null },
        items: places.map((place) => waiting(place)),
      }),
      tell: (sending) => events.tell({ type: 'sending', sending }),
      run: async (piece, request, signal, change) => {
        const places = await this.placesOf(request.places);
        let items = places.map((place) => ({ ...waiting(place.id), placeName: place.name }));
        const set = (turn: number, part: Partial<SendingItem>, tell = true) => {
          items = items.with(turn, { ...items[turn], ...part });
          change({ items }, tell);
        };
        change({ items });
        for (const [turn, place] of places.entries()) {
          await this.sendTo(place, piece, request, signal, (part, tell) => set(turn, part, tell));
        }
        change({ state: 'done' });
      },
    });
  }

  async begin(piece: string, request: SendRequest): Promise<SendingView> {
    // What cannot be sent is said before anything is begun.
    this.host.address();
    await this.trials.file(request.trial);
    await this.placesOf(request.places);
    return this.sendings.begin(piece, request);
  }

  last(piece: string): Promise<SendingView | null> {
    return this.sendings.last(piece);
  }

  /** What was sent, or was on its way, stays in the list. */
  async stop(piece: string): Promise<SendingView | null> {
    const view = await this.sendings.last(piece);
    await this.sendings.stop(piece);
    if (!view) return null;
    const items = view.items.map((item) =>
      ['waiting', 'fitting', 'sending'].includes(item.state)
        ? {
            ...item,
            state: 'stopped' as const,
            problem: 'It was stopped. Go on, and it begins where it was.',
          }
        : item,
    );
    return { ...view, state: 'done', items, revision: nextRevision() };
  }

  /**
   * Sends files to one place and shows them there beside one another.
   * @returns the address of the page that compares them.
   * @throws Problem with what the place said where it does not take one of them.
   */
  async publishBeside({ place, trials }: BesideRequest): Promise<string> {
    const host = this.host.address();
    await this.placesOf([place]);
    const paths = await Promise.all(trials.map(async ({ trial }) => (await this.trials.file(trial)).path));
    const ids: string[] = [];
    for (const [i, { trial, title, about }] of trials.entries()) {
      const { recipe } = await this.trials.view(trial);
      const id = await sendFile(host, paths[i], {
        metadata: { place, title, about, plays: String(recipe.plays) },
        ...{ from: null, signal: new AbortController().signal, onAddress: () => {}, onProgress: () => {} },
      }).catch((error: unknown) => {
        throw error instanceof HostRefusal || error instanceof LineBroke
          ? new Problem(422, 'request_refused', `${title}: ${error.message}`)
          : error;
      });
      ids.push(id);
    }
    return `${host}/s/${ids.join('.')}`;
  }

  private async placesOf(ids: readonly string[]): Promise<Limit[]> {
    const all = await this.limits.list();
    return ids.map((id) => {
      const place = all.find((one) => one.id === id);
      if (!place) throw notFound('place');
      return place;
    });
  }

  private async sendTo(
    place: Limit,
    piece: string,
    request: SendRequest,
    signal: AbortSignal,
    set: (part: Partial<SendingItem>, tell?: boolean) => void,
  ): Promise<void> {
    try {
      const { trial, path } = await this.fileFor(place, piece, request, signal, set);
      set({ state: 'sending', trial: trial.id, done: 0, doing: 'sending' });
      const key = `${place.id} ${path} ${request.replaces ?? ''}`;
      const id = await sendFile(this.host.address(), path, {
        metadata: {
          ...{ place: place.id, title: request.title, about: request.about },
          plays: String(trial.recipe.plays),
          ...(request.replaces ? { replaces: request.replaces } : {}),
        },
        from: this.arrived.get(key) ?? null,
        signal,
        onAddress: (address) => this.arrived.set(key, address),
        onProgress: (done) => set({ done }),
      });
      this.arrived.delete(key);
      set({ state: 'accepted', done: 1, doing: '', page: await this.host.page(id) });
    } catch (error) {
      if (signal.aborted) throw error;
      if (error instanceof HostRefusal) {
        set({ state: 'refused', doing: '', problem: error.message, over: error.over });
      } else if (error instanceof LineBroke) {
        set({ state: 'stopped', doing: '', problem: error.message });
      } else {
        const { code, message } = toProblem(error);
        if (code === 'internal') throw error;
        set({ state: 'failed', doing: '', problem: message });
      }
    }
  }

  /** The chosen file; or where the place would refuse it and fitting is wished, one that it takes. */
  private async fileFor(
    place: Limit,
    piece: string,
    { trial: id, fits }: SendRequest,
    signal: AbortSignal,
    set: (part: Partial<SendingItem>, tell?: boolean) => void,
  ): Promise<Sent> {
    const chosen = await this.trials.view(id);
    const over = chosen.figures ? checkLimit(place, chosen.figures) : [];
    if (!fits || over.length === 0) return this.sent(chosen);
    set({ state: 'fitting', doing: 'fitting it for this place' });
    const recipe = takenKind(chosen.recipe, place);
    const task: FitTask = { ...(await this.pieces.taskOf(piece, recipe)), limit: place };
    const found = await runInThread<MakingProgress, FittedFile[]>(
      this.pool,
      task,
      { filename: FIT_WORKER, signal },
      ({ done, doing }, tell) => set({ done, doing }, tell),
    );
    const [best] = found;
    return this.sent(await this.trials.keep(piece, best.recipe, best.made));
  }

  private async sent(trial: TrialView): Promise<Sent> {
    return { trial, path: (await this.trials.file(trial.id)).path };
  }
}

function waiting(place: string): SendingItem {
  return {
    ...{ place, placeName: '', state: 'waiting', done: 0, doing: 'waiting for its turn' },
    ...{ trial: null, page: null, problem: null, over: [] },
  };
}

/** The recipe in a kind that the place takes, and that has settings to be fitted with. */
function takenKind(recipe: Recipe, { kinds }: Limit): Recipe {
  const takes = (kind: FileKindId) => fileKind(kind).fit !== null && (kinds === null || kinds.includes(kind));
  if (takes(recipe.weigh.kind)) return recipe;
  const kind = TRIED_KINDS.find(takes) ?? recipe.weigh.kind;
  return { ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) };
}

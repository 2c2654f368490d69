import type { FollowRequest, FollowView } from '@muted-pond/core/api';
import { followingKey } from '@muted-pond/core/derived';
import { type Veil, veilAt } from '@muted-pond/core/dress';
import { takeOf } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../cache/index.js';
import { JobPool, Jobs, PondEvents, ThreadJobs } from '../jobs/index.js';
import { sourceFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { Problem } from '../problems/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import type { Followed, FollowTask } from './follow-region.js';

/** Follows what veils hide, one veil of a piece at a time. */
@Injectable()
export class FollowService {
  private readonly followings: ThreadJobs<FollowRequest, FollowTask, Followed, FollowView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.followings = new ThreadJobs(
      { jobs, pool, cache },
      {
        name: 'follow',
        priority: 'hand',
        worker: new URL(`./follow-region.worker.${THREAD_ENDING}`, import.meta.url).href,
        taskOf: (piece, ask) => this.taskOf(piece, ask),
        keyOf: ({ file, ...region }) => followingKey({ footage: file.hash, ...region }),
        keptWith: ({ file }) => file.hash,
        first: (job, { veil, frame, way }) => ({
          ...{ ...job, veil, frame, way, keys: [], confidence: [], lostAt: null, handSetAt: null },
        }),
        result: (followed, { ask, task }) => ({ ...followed, handSetAt: handSetBehind(ask, task.last) }),
        tell: (follow) => events.tell({ type: 'follow', follow }),
      },
    );
  }

  request(piece: string, ask: FollowRequest): Promise<FollowView> {
    return this.followings.request(piece, ask);
  }

  stop(piece: string): Promise<void> {
    return this.followings.stop(piece);
  }

  /** @throws Problem where there is nothing to follow. */
  private async taskOf(piece: string, { recipe, veil: id, frame, way }: FollowRequest): Promise<FollowTask> {
    const { files } = await this.pieces.taskOf(piece, recipe);
    const [file] = files;
    const veil = recipe.dress.veils.find((one) => one.id === id);
    const refused = (sentence: string) => new Problem(422, 'request_refused', sentence);
    if (!veil) throw refused('This veil is not there any more. Choose another.');
    if (file.facts.kind === 'picture') {
      throw refused('Pictures do not move from one to the next: set where the veil lies on each.');
    }
    const frames = takeOf(recipe, files.map(sourceFile)).times.starts.length;
    const region = veilAt({ ...veil, shown: true }, frame);
    if (frame >= frames || !region)
      throw refused('The veil does not lie on this frame. Go to one it lies on.');
    const { start, end } = veil.span ?? { start: 0, end: frames };
    const limits = { first: start, last: Math.min(frames, end) - 1 };
    return { file, region, frame, way, last: lastFrame(veil, frame, way, limits) };
  }
}

/** As far as the next key that a hand has set, or the end of the veil. */
function lastFrame(
  { keys }: Veil,
  frame: number,
  way: FollowRequest['way'],
  { first, last }: { readonly first: number; readonly last: number },
): number {
  const hands = keys.filter(({ by }) => by === 'hand').map((key) => key.frame);
  if (way === 'forwards') return Math.min(last, ...hands.filter((at) => at > frame).map((at) => at - 1));
  return Math.max(first, ...hands.filter((at) => at < frame).map((at) => at + 1));
}

/** The place that a hand has set right behind the last frame that is looked at. */
function handSetBehind({ recipe, veil: id, way }: FollowRequest, last: number): number | null {
  const behind = way === 'forwards' ? last + 1 : last - 1;
  const veil = recipe.dress.veils.find((one) => one.id === id);
  return veil?.keys.some(({ by, frame }) => by === 'hand' && frame === behind) ? behind : null;
}

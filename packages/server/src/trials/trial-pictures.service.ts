import { takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import { PictureCache } from '../cache/index.js';
import { JobPool, runInThread, SharedJobs } from '../jobs/index.js';
import { type ReadingTask, sourceFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { notFound } from '../problems/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import type { Trial } from './trial.entity.js';
import { upToDate } from './trial-view.js';
import { TrialsService } from './trials.service.js';

const WORKER = new URL(`./read-trial.worker.${THREAD_ENDING}`, import.meta.url).href;
/** The folder of the cache in which pictures lie, under their file's own name. */
const FOLDER = 'trial-pictures';
/** Files whose pictures are kept: more are not compared in one sitting. */
const MOST_KEPT = 16;

/** Finished files picture by picture, for kinds that a page cannot take apart itself. */
@Injectable()
export class TrialPicturesService implements OnApplicationBootstrap {
  /** Files that were read or are being read, by their hash; what goes out of here goes from the disk. */
  private readonly read: LRUCache<string, Promise<void>>;

  constructor(
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) private readonly pool: JobPool,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
  ) {
    this.read = new LRUCache({
      max: MOST_KEPT,
      noDisposeOnSet: true,
      dispose: (_, hash) => void this.cache.drop(FOLDER, hash).catch(() => {}),
    });
  }

  /** What an earlier run of the server has left is made again when it is asked for. */
  async onApplicationBootstrap(): Promise<void> {
    await this.cache.drop(FOLDER);
  }

  /** The picture that is seen at a place of the reel, PNG. @throws Problem where there is none. */
  async picture(id: string, place: number): Promise<Buffer> {
    const { trial, path } = await this.trials.file(id);
    const hash = trial.blob ?? '';
    const there = this.read.get(hash);
    await (there ?? this.begin(hash, path, trial));
    const kept = await this.cache.get(FOLDER, hash, place);
    if (kept) return kept;
    // The cache may have been thrown away meanwhile.
    if (there && !(await this.cache.has(FOLDER, hash, 0))) await this.begin(hash, path, trial);
    const made = await this.cache.get(FOLDER, hash, place);
    if (!made) throw notFound('picture');
    return made;
  }

  private begin(hash: string, path: string, trial: Trial): Promise<void> {
    const reading = this.jobs.run({
      key: `${FOLDER}/${hash}`,
      owner: trial.pieceId,
      queue: 'threads',
      run: ({ signal }) => this.readFile(hash, path, trial, signal),
    });
    this.read.set(hash, reading);
    reading.catch(() => this.read.delete(hash));
    return reading;
  }

  private async readFile(
    hash: string,
    path: string,
    { recipe: stored, figures }: Trial,
    signal: AbortSignal,
  ): Promise<void> {
    const recipe = upToDate(stored);
    const files = await this.pieces.filesOf(recipe);
    const { reel } = loopOf(recipe, takeOf(recipe, files.map(sourceFile)));
    const task: ReadingTask = {
      path,
      kind: figures?.kind ?? recipe.weigh.kind,
      delaysCs: reel.map(({ delayCs }) => delayCs),
    };
    const pictures = await runInThread<never, Uint8Array[]>(
      this.pool,
      task,
      { filename: WORKER, signal },
      () => {},
    );
    await Promise.all(pictures.map((picture, place) => this.cache.put(FOLDER, hash, place, picture)));
  }
}

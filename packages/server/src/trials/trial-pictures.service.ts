import { takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool } from '../jobs/index.js';
import { type ReadingTask, sourceFile } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { notFound } from '../problems/index.js';
import { PictureCache } from '../storage/index.js';
import { THREAD_ENDING } from '../threads/index.js';
import { TrialsService, upToDate } from './trials.service.js';

const WORKER = new URL(`./read-trial.worker.${THREAD_ENDING}`, import.meta.url).href;
/** The folder of the cache in which a file's pictures lie, under the file's own name. */
const FOLDER = 'trial';

/** Finished files picture by picture, for kinds that a page cannot take apart itself. */
@Injectable()
export class TrialPicturesService {
  /** Files that are being read, by their hash. */
  private readonly reading = new Map<string, Promise<void>>();

  constructor(
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) private readonly pool: JobPool,
  ) {}

  /** The picture that is seen at a place of the reel, PNG. @throws Problem where there is none. */
  async picture(id: string, place: number): Promise<Buffer> {
    const { trial, path } = await this.trials.file(id);
    const hash = trial.blob ?? '';
    const kept = await this.cache.get(hash, FOLDER, place);
    if (kept) return kept;
    let reading = this.reading.get(hash);
    if (!reading) {
      reading = this.read(hash, path, id).finally(() => this.reading.delete(hash));
      this.reading.set(hash, reading);
    }
    await reading;
    const made = await this.cache.get(hash, FOLDER, place);
    if (!made) throw notFound('picture');
    return made;
  }

  private async read(hash: string, path: string, id: string): Promise<void> {
    const { trial } = await this.trials.file(id);
    const recipe = upToDate(trial.recipe);
    const files = await this.pieces.filesOf(recipe);
    const { reel } = loopOf(recipe, takeOf(recipe, files.map(sourceFile)));
    const task: ReadingTask = {
      path,
      kind: trial.figures?.kind ?? 'gif',
      delaysCs: reel.map(({ delayCs }) => delayCs),
    };
    const pictures = await this.pool.run<Uint8Array[]>(task, { filename: WORKER });
    await Promise.all(pictures.map((picture, place) => this.cache.put(hash, FOLDER, place, picture)));
  }
}

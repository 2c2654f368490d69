import type { KindMade, KindsView } from '@muted-pond/core/api';
import { kindsKey } from '@muted-pond/core/derived';
import { UserError } from '@muted-pond/core/errors';
import { type FileKindId, fileKind, SENT_KINDS } from '@muted-pond/core/files';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable } from '@nestjs/common';
import { JobPool, Jobs, PieceJobs, PondEvents, runInThread } from '../jobs/index.js';
import type { MadeFile, MakingProgress } from '../making/index.js';
import { PiecesService } from '../pieces/index.js';
import { MAKE_TRIAL_WORKER, TrialsService } from '../trials/index.js';

/** Makes the same loop in every kind of file, one after the other; what is made becomes trials. */
@Injectable()
export class AllKindsService {
  private readonly rounds: PieceJobs<Recipe, KindsView>;

  constructor(
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(JobPool) pool: JobPool,
    @Inject(Jobs) jobs: Jobs,
    @Inject(PondEvents) events: PondEvents,
  ) {
    this.rounds = new PieceJobs<Recipe, KindsView>(jobs, {
      name: 'kinds',
      priority: 'fit',
      first: (piece, recipe) => ({
        ...{ piece, key: kindsKey(recipe), state: 'working', done: 0, doing: 'waiting for its turn' },
        ...{ made: [], problem: null },
      }),
      tell: (kinds) => events.tell({ type: 'kinds', kinds }),
      run: async (piece, recipe, signal, change) => {
        const made: KindMade[] = [];
        for (const [turn, kind] of SENT_KINDS.entries()) {
          const { name } = fileKind(kind);
          const share = (done: number) => (turn + done) / SENT_KINDS.length;
          change({ doing: `making the ${name}`, done: share(0) });
          const own = ofKind(recipe, kind);
          try {
            const there = await this.trials.finishedOf(piece, own);
            const trial =
              there ??
              (await this.trials.keep(
                piece,
                own,
                await runInThread<MakingProgress, MadeFile>(
                  pool,
                  await this.pieces.taskOf(piece, own),
                  { filename: MAKE_TRIAL_WORKER, signal },
                  ({ done, doing }, tell) => change({ doing: `${name}: ${doing}`, done: share(done) }, tell),
                ),
              ));
            made.push({ kind, trial: trial.id, problem: null });
          } catch (error) {
            // What one kind cannot hold, another may.
            if (!(error instanceof UserError)) throw error;
            made.push({ kind, trial: null, problem: error.message });
          }
          change({ made: [...made], done: share(1) });
        }
        change({ state: 'done', done: 1 });
      },
    });
  }

  async begin(piece: string, recipe: Recipe): Promise<KindsView> {
    await this.pieces.taskOf(piece, recipe);
    return this.rounds.begin(piece, recipe);
  }

  last(piece: string): Promise<KindsView | null> {
    return this.rounds.last(piece);
  }

  stop(piece: string): Promise<void> {
    return this.rounds.stop(piece);
  }
}

function ofKind(recipe: Recipe, kind: FileKindId): Recipe {
  return { ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) };
}

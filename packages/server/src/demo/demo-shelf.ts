import { createReadStream } from 'node:fs';
import { join } from 'node:path';
import type { PieceView } from '@muted-pond/core/api';
import { changeWeigh, type Recipe, type WeighChange } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { FootageService } from '../footage/index.js';
import { PiecesService } from '../pieces/index.js';
import { SETTINGS, type Settings } from '../settings.js';
import { TrialsService } from '../trials/index.js';

interface DemoPiece {
  /** One video or animation, or pictures in their order. */
  readonly files: readonly string[];
  readonly name: string;
  /** What is set in it. Spans are in source frames. */
  readonly edit: (recipe: Recipe) => Recipe;
}

const cut =
  (start: number, end: number, weigh: WeighChange = {}) =>
  (recipe: Recipe): Recipe => ({ ...recipe, span: { start, end }, weigh: changeWeigh(recipe.weigh, weigh) });

const weighing =
  (weigh: WeighChange) =>
  (recipe: Recipe): Recipe => ({ ...recipe, weigh: changeWeigh(recipe.weigh, weigh) });

/** The pieces of Osier Lane Tea House; the last one stands first on the shelf. */
const DEMO_PIECES: readonly DemoPiece[] = [
  { files: ['old loop.gif'], name: 'Boat day, an old loop', edit: weighing({ width: 320 }) },
  { files: ['badge.png'], name: 'Osier Lane badge', edit: weighing({ width: 240 }) },
  {
    files: ['booking.mp4'],
    name: 'How to keep a table',
    edit: cut(78, 288, { width: 640, frameRate: 10, gif: { colors: 64 } }),
  },
  { files: ['sideways.mp4'], name: 'Wind bell, upright', edit: cut(30, 120, { width: 320, frameRate: 20 }) },
  {
    files: [1, 2, 3, 4, 5].map(
      (stall) => `market stall ${stall}.${['jpg', 'jpg', 'webp', 'png', 'jpg'][stall - 1]}`,
    ),
    name: 'Market stalls',
    edit: (recipe) => ({
      ...weighing({ width: 400 })(recipe),
      sources: recipe.sources.map((source) =>
        source.kind === 'stills'
          ? { ...source, canvas: { width: 600, height: 600 }, fit: 'cover' as const, delayCs: 90 }
          : source,
      ),
    }),
  },
  {
    files: [1, 2, 3].map((panel) => `autumn menu ${panel}.png`),
    name: 'Autumn menu panels',
    edit: weighing({ width: 336, gif: { dither: 'none' } }),
  },
  { files: ['koi.webm'], name: 'Carp, circling', edit: cut(30, 120, { width: 400 }) },
  { files: ['kettle.mov'], name: 'First kettle of the day', edit: cut(40, 118) },
  { files: ['lantern.mp4'], name: 'Lantern over the landing', edit: cut(42, 114) },
];

/** Puts the demo footage on an empty shelf, through the same doors as anyone's. */
@Injectable()
export class DemoShelf implements OnApplicationBootstrap {
  private readonly log = new Logger('demo');

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(FootageService) private readonly footage: FootageService,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (!this.settings.demoDir || (await this.footage.list()).length > 0) return;
    const made: PieceView[] = [];
    for (const demo of DEMO_PIECES) {
      try {
        made.push(await this.put(this.settings.demoDir, demo));
        this.log.log(`${demo.name} is on the shelf.`);
      } catch (error) {
        this.log.warn(`${demo.name}: ${error instanceof Error ? error.message : error}`);
      }
    }
    // What stands first is made first, while one already looks around.
    void this.makeFiles(made.reverse());
  }

  /** One after the other, so that whoever asks for a file of their own never waits behind all of these. */
  private async makeFiles(pieces: readonly PieceView[]): Promise<void> {
    for (const { id, recipe } of pieces) {
      try {
        await this.trials.finished((await this.trials.request(id, recipe)).id);
      } catch (error) {
        this.log.warn(`The file of ${id}: ${error instanceof Error ? error.message : error}`);
      }
    }
  }

  private async put(folder: string, { files, name, edit }: DemoPiece): Promise<PieceView> {
    const hashes: string[] = [];
    for (const file of files) {
      const footage = await this.footage.receive(createReadStream(join(folder, file)), file);
      hashes.push(footage.id);
    }
    const piece = await this.pieces.create(
      hashes.length > 1 ? { stills: hashes, name } : { footage: hashes[0], name },
    );
    const recipe = edit(piece.recipe);
    return this.pieces.save(piece.id, { revision: piece.revision, name, recipe });
  }
}

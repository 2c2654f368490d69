import { createReadStream } from 'node:fs';
import { join } from 'node:path';
import { DEFAULT_WEIGH, type Recipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { FootageService } from '../footage/index.js';
import { PiecesService } from '../pieces/index.js';
import { SETTINGS, type Settings } from '../settings.js';
import { TrialsService } from '../trials/index.js';

interface DemoPiece {
  readonly file: string;
  readonly name: string;
  readonly span: Recipe['span'];
  readonly weigh: Partial<Recipe['weigh']>;
}

/** The pieces of Osier Lane Tea House. Spans are in source frames. */
const DEMO_PIECES: readonly DemoPiece[] = [
  { file: 'koi.webm', name: 'Carp, circling', span: { start: 30, end: 120 }, weigh: { width: 400 } },
  { file: 'kettle.mov', name: 'First kettle of the day', span: { start: 40, end: 118 }, weigh: {} },
  { file: 'lantern.mp4', name: 'Lantern over the landing', span: { start: 42, end: 114 }, weigh: {} },
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
    for (const demo of DEMO_PIECES) {
      try {
        await this.put(this.settings.demoDir, demo);
        this.log.log(`${demo.name} is on the shelf.`);
      } catch (error) {
        this.log.warn(`${demo.name}: ${error instanceof Error ? error.message : error}`);
      }
    }
  }

  private async put(folder: string, { file, name, span, weigh }: DemoPiece): Promise<void> {
    const footage = await this.footage.receive(createReadStream(join(folder, file)), file);
    const piece = await this.pieces.create({ footage: footage.id, name });
    const recipe = { ...piece.recipe, span, weigh: { ...DEFAULT_WEIGH, ...weigh } };
    await this.pieces.save(piece.id, { revision: piece.revision, name, recipe });
    await this.trials.request(piece.id, recipe);
  }
}

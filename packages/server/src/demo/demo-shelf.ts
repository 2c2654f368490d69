import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { LayerKind, PieceView } from '@muted-pond/core/api';
import { joinOf } from '@muted-pond/core/loop';
import { type Recipe, readRecipe } from '@muted-pond/core/recipe';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { FootageService } from '../footage/index.js';
import { LayersService } from '../layers/index.js';
import { PiecesService } from '../pieces/index.js';
import { SETTINGS, type Settings } from '../settings.js';
import { TrialsService } from '../trials/index.js';

/** A piece of Osier Lane Tea House, as the demo folder has it. */
interface DemoPiece {
  readonly name: string;
  /** In `footage`: one video or animation, or pictures in their order. */
  readonly files: readonly string[];
  /** In `pieces`. */
  readonly masks: readonly string[];
  /** Names its files and masks by the hashes of their bytes. */
  readonly recipe: unknown;
}

/**
 * Puts the demo pieces on an empty shelf, through the same doors as anyone's; the first in their list stands
 * first.
 */
@Injectable()
export class DemoShelf implements OnApplicationBootstrap {
  private readonly log = new Logger('demo');

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(FootageService) private readonly footage: FootageService,
    @Inject(LayersService) private readonly layers: LayersService,
    @Inject(PiecesService) private readonly pieces: PiecesService,
    @Inject(TrialsService) private readonly trials: TrialsService,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const { demoDir } = this.settings;
    if (!demoDir || (await this.footage.list()).length > 0) return;
    const list = await readFile(join(demoDir, 'pieces', 'pieces.json'), 'utf8');
    const made: PieceView[] = [];
    // The newest stands first on the shelf.
    for (const demo of (JSON.parse(list) as DemoPiece[]).reverse()) {
      try {
        made.unshift(await this.put(demoDir, demo));
        this.log.log(`${demo.name} is on the shelf.`);
      } catch (error) {
        this.log.warn(`${demo.name}: ${error instanceof Error ? error.message : error}`);
      }
    }
    // All wait in the order of the shelf, behind whatever somebody asks for. What is woven takes as long as all
    // others together, so it is made when those play.
    made.sort((one, other) => Number(isWoven(one.recipe)) - Number(isWoven(other.recipe)));
    for (const { id, recipe } of made) await this.trials.request(id, recipe, 'batch');
  }

  private async put(folder: string, { files, masks, name, recipe }: DemoPiece): Promise<PieceView> {
    const hashes: string[] = [];
    for (const file of files) {
      const path = join(folder, 'footage', file);
      hashes.push((await this.footage.receive(createReadStream(path), file)).id);
    }
    for (const mask of masks) {
      await this.layers.receive(createReadStream(join(folder, 'pieces', mask)), mask, kindOf(mask));
    }
    const reading = readRecipe(recipe);
    if (reading.type === 'error') throw new Error(reading.message);
    const piece = await this.pieces.create(
      hashes.length > 1 ? { stills: hashes, name } : { footage: hashes[0], name },
    );
    return this.pieces.save(piece.id, { revision: piece.revision, name, recipe: reading.recipe });
  }
}

function isWoven({ loop }: Recipe): boolean {
  return joinOf(loop.join).woven !== undefined;
}

/** What a kept file of a demo piece is, by its ending. */
function kindOf(file: string): LayerKind {
  if (file.endsWith('.cube')) return 'table';
  return file.startsWith('emblem') ? 'emblem' : 'picture';
}

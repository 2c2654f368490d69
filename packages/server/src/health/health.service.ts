import { join, resolve } from 'node:path';
import type { BackupHolds, BackupView, HealthView } from '@muted-pond/core/api';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import pLimit from 'p-limit';
import { BlobStore } from '../blobs/index.js';
import { backUp } from '../data-folder/index.js';
import { hasFfmpeg } from '../ffmpeg/index.js';
import { FootageService } from '../footage/index.js';
import { missingKinds } from '../making/index.js';
import { dataFolders, SETTINGS, type Settings } from '../settings.js';

/**
 * What is missing around the application, told at the start and on the shelf; and ways to keep and to mend.
 */
@Injectable()
export class HealthService implements OnApplicationBootstrap {
  private readonly log = new Logger('health');
  /** What copies or changes the whole data folder is done one at a time. */
  private readonly limitWhole = pLimit(1);

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(FootageService) private readonly footage: FootageService,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const { decoder } = await this.look();
    if (!decoder)
      this.log.warn('ffmpeg is not installed: no video can be opened. Debian: apt-get install ffmpeg');
  }

  async look(): Promise<HealthView> {
    const isEmpty = (await this.footage.list()).length === 0;
    return {
      decoder: await hasFfmpeg(),
      missingKinds: await missingKinds(),
      unknownFiles: isEmpty ? await this.blobs.count() : 0,
    };
  }

  /** After a database was lost: every file that can be shown is put back under a made-up name. */
  bringBack(): Promise<{ brought: number }> {
    return this.limitWhole(async () => {
      let brought = 0;
      for (const hash of await this.blobs.all()) if (await this.footage.adopt(hash)) brought++;
      return { brought };
    });
  }

  backUp(): Promise<BackupView> {
    return this.limitWhole(async () => {
      const { dataDir } = this.settings;
      const name = new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-');
      const folder = resolve(join(dataFolders(dataDir).backups, name));
      const { holds } = await backUp(dataDir, folder);
      return { folder, holds: holds as BackupHolds };
    });
  }
}

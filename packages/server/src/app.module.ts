import { type DynamicModule, Global, Module, type OnApplicationShutdown } from '@nestjs/common';
import { ScheduleModule } from '@nestjs/schedule';
import { TypeOrmModule } from '@nestjs/typeorm';
import type { FolderLock } from './data-folder/index.js';
import { databaseOptions } from './database/index.js';
import { DemoShelf } from './demo/index.js';
import { FitModule } from './fit/index.js';
import { FollowModule } from './follow/index.js';
import { FootageModule } from './footage/index.js';
import { HealthModule } from './health/index.js';
import { HoldingModule } from './holding/index.js';
import { JobsModule } from './jobs/index.js';
import { LayersModule } from './layers/index.js';
import { LimitsModule } from './limits/index.js';
import { PiecesModule } from './pieces/index.js';
import { PracticeHostModule } from './practice-host/index.js';
import { dataFolders, SETTINGS, type Settings } from './settings.js';
import { StorageModule } from './storage.module.js';
import { StorageSweep } from './storage-sweep.js';
import { TrialsModule } from './trials/index.js';
import { WeavingModule } from './weaving/index.js';

@Global()
@Module({})
class SettingsModule {}

@Module({})
class AppModule {}

/** Lets the data folder go once everything else has ended. */
class FolderKeeper implements OnApplicationShutdown {
  constructor(private readonly lock: FolderLock) {}

  onApplicationShutdown(): void {
    this.lock.release();
  }
}

/** The application as it runs with these settings. */
export function appModule(settings: Settings, lock: FolderLock): DynamicModule {
  const settingsModule: DynamicModule = {
    module: SettingsModule,
    providers: [
      { provide: SETTINGS, useValue: settings },
      { provide: FolderKeeper, useValue: new FolderKeeper(lock) },
    ],
    exports: [SETTINGS],
  };
  return {
    module: AppModule,
    imports: [
      settingsModule,
      TypeOrmModule.forRoot(databaseOptions(dataFolders(settings.dataDir).database)),
      ScheduleModule.forRoot(),
      StorageModule,
      JobsModule,
      FootageModule,
      TrialsModule,
      HoldingModule,
      WeavingModule,
      FitModule,
      FollowModule,
      LimitsModule,
      PiecesModule,
      LayersModule,
      PracticeHostModule,
      HealthModule,
    ],
    providers: [StorageSweep, DemoShelf],
  };
}

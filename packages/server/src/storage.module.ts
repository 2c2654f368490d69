import { isOutdatedFootageKey } from '@muted-pond/core/identity';
import { Global, Module } from '@nestjs/common';
import { BlobStore } from './blobs/index.js';
import { PictureCache } from './cache/index.js';
import { dataFolders, SETTINGS, type Settings } from './settings.js';

@Global()
@Module({
  providers: [
    {
      provide: BlobStore,
      inject: [SETTINGS],
      useFactory: async ({ dataDir }: Settings) => {
        const folders = dataFolders(dataDir);
        const store = new BlobStore(folders.blobs, folders.incoming, folders.bin);
        await store.open();
        return store;
      },
    },
    {
      provide: PictureCache,
      inject: [SETTINGS],
      useFactory: async ({ dataDir }: Settings) => {
        const cache = new PictureCache(dataFolders(dataDir).cache);
        await cache.sweep(isOutdatedFootageKey);
        return cache;
      },
    },
  ],
  exports: [BlobStore, PictureCache],
})
export class StorageModule {}

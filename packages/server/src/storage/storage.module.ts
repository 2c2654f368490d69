import { isOutdatedFootageKey } from '@muted-pond/core/identity';
import { Global, Module } from '@nestjs/common';
import { PictureCache } from '../disk/index.js';
import { dataFolders, SETTINGS, type Settings } from '../settings.js';
import { BlobStore } from './blob-store.js';

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

export { BlobStore, blobsIn, hashOf, type IncomingFile } from './blob-store.js';
export { StorageModule } from './storage.module.js';
export { storedJson } from './stored-json.js';

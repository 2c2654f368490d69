export { BlobStore, blobsIn, hashOf, type IncomingFile } from './blob-store.js';

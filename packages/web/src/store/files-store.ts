import { createStore, type StoreApi } from 'zustand';
import { type OpenFile, openFile } from '../api/queries.js';

/** The files that the piece is, was or may again be made from: undo can come back to any of them. */
export interface FilesState {
  readonly files: ReadonlyMap<string, OpenFile>;
}

export type FilesStore = StoreApi<FilesState> & {
  /** Learns what the recipe needs to know of files, before it names them. @throws ApiProblem */
  ensure(hashes: readonly string[]): Promise<void>;
};

export function createFilesStore(opened: readonly OpenFile[]): FilesStore {
  const store = createStore<FilesState>(() => ({
    files: new Map(opened.map((file) => [file.view.id, file])),
  }));
  return Object.assign(store, {
    async ensure(hashes: readonly string[]) {
      const known = store.getState().files;
      const fresh = await Promise.all(hashes.filter((hash) => !known.has(hash)).map(openFile));
      if (fresh.length === 0) return;
      store.setState(({ files }) => ({
        files: new Map([...files, ...fresh.map((file) => [file.view.id, file] as const)]),
      }));
    },
  });
}

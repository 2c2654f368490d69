import { fileKind } from '@muted-pond/core/files';
import { bestSnippet, SNIPPETS, type SnippetName, shownBy, snippetOf } from '@muted-pond/core/pages';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { type KindFile, pageFileOf, useKindFiles } from './kind-files.js';
import { useSendHabits } from './send-habits.js';

/** What a page shows, and how. */
export interface PageChoice {
  /** All that is made of the present loop. */
  readonly made: readonly KindFile[];
  /** What is sent of it. */
  readonly sent: readonly KindFile[];
  /** Ways that the files allow. */
  readonly ways: readonly SnippetName[];
  /** Null where nothing is made that a page could show. */
  readonly way: SnippetName | null;
  /** For who does not see it; the piece's name until something is written. */
  readonly about: string;
  /** The words for a page, with files under their names or at the addresses that are given by name. */
  snippet(urls?: ReadonlyMap<string, string>): string;
}

export function usePageChoice(): PageChoice {
  const { store } = useWorkspace();
  const name = useStore(store, (state) => state.name);
  const written = useStore(store, (state) => state.about);
  const plays = useStore(store, (state) => state.recipe.plays);
  const chosen = useSendHabits((habits) => habits.way);
  const made = useKindFiles();
  const sent = made.filter(({ isSent }) => isSent);
  const files = sent.filter(({ kind }) => ['image', 'movie'].includes(fileKind(kind).shownAs));
  const still = sent.find(({ kind }) => fileKind(kind).shownAs === 'still') ?? null;
  const pageFiles = files.map((file) => pageFileOf(file));
  const ways = SNIPPETS.filter((one) => shownBy(one, pageFiles).length > 0);
  const way = chosen && ways.includes(chosen) ? chosen : bestSnippet(pageFiles);
  const about = written || name;
  return {
    ...{ made, sent, ways, way, about },
    snippet(urls) {
      if (!way) return '';
      const urlOf = (file: KindFile) => urls?.get(file.name);
      return snippetOf(way, {
        files: files.map((file) => pageFileOf(file, urlOf(file))),
        still: still && pageFileOf(still, urlOf(still)).url,
        about,
        plays,
      });
    },
  };
}

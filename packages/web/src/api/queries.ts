import type {
  BackupView,
  FootageTimes,
  FootageView,
  HealthView,
  NewPiece,
  PieceSave,
  PieceView,
  ShelfPiece,
  TrialChange,
  TrialView,
} from '@muted-pond/core/api';
import type { SavingFamily } from '@muted-pond/core/derived';
import { footagePath } from '@muted-pond/core/identity';
import type { Recipe } from '@muted-pond/core/recipe';
import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ApiProblem, type CallOptions, callApi } from './client.js';
import { goneTrials } from './gone-trials.js';
import { withNewest } from './newest.js';
import { withLayers } from './sent-layers.js';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      refetchOnWindowFocus: false,
      retry: (count, error) =>
        count < 2 && !(error instanceof ApiProblem && error.status >= 400 && error.status < 500),
    },
  },
});

export const keys = {
  pieces: ['pieces'] as const,
  health: ['health'] as const,
  piece: (id: string) => ['pieces', id] as const,
  shownTrials: ['trials', 'shown'] as const,
  trials: (piece: string) => ['trials', piece] as const,
  holding: (piece: string) => ['holding', piece] as const,
  weaving: (piece: string) => ['weaving', piece] as const,
  weaveAdvice: (piece: string) => ['weave-advice', piece] as const,
  fit: (piece: string) => ['fit', piece] as const,
  kinds: (piece: string) => ['kinds', piece] as const,
  follow: (piece: string) => ['follow', piece] as const,
  savings: (piece: string, of: SavingFamily) => ['savings', piece, of] as const,
  limits: ['limits'] as const,
  practiceHost: ['practice-host'] as const,
  sending: (piece: string) => ['sending', piece] as const,
  allFootage: ['footage'] as const,
  footage: (id: string) => ['footage', id] as const,
  times: (id: string) => ['footage', id, 'times'] as const,
  activity: (id: string) => ['footage', id, 'activity'] as const,
  motion: (id: string, from: number, to: number) => ['footage', id, 'motion', from, to] as const,
};

/**
 * Whether an answer may change by itself: by the work of the server, or in another window. Other queries are
 * repeated only where they failed.
 */
export function mayChange(key: readonly unknown[]): boolean {
  const [of, , part] = key;
  if (of === 'open-files') return false;
  // A piece is read once when it is opened; the shelf's list may change.
  if (of === 'pieces') return key.length === 1;
  // Times and motion are those of bytes that never change.
  return !(of === 'footage' && (part === 'times' || part === 'motion'));
}

export const usePieces = () =>
  useQuery({ queryKey: keys.pieces, queryFn: () => callApi<ShelfPiece[]>('GET', 'pieces'), staleTime: 0 });

/** Read once when a piece is opened; from then on the editor is the truth. */
export const usePiece = (id: string) =>
  useQuery({
    queryKey: keys.piece(id),
    queryFn: () => callApi<PieceView>('GET', `pieces/${id}`),
    staleTime: 0,
    gcTime: 0,
  });

/** The recipe as a file, also of a piece that cannot be read. */
export const recipeFileUrl = (piece: string) => `/api/pieces/${piece}/recipe`;

export const useHealth = () =>
  useQuery({ queryKey: keys.health, queryFn: () => callApi<HealthView>('GET', 'health') });
export const bringBack = () => callApi<{ brought: number }>('POST', 'health/bring-back');
export const backUp = () => callApi<BackupView>('POST', 'health/backup');

/** What the shelf plays of each piece. */
export const useShownTrials = () =>
  useQuery({
    queryKey: keys.shownTrials,
    queryFn: () => callApi<TrialView[]>('GET', 'trials/shown'),
    staleTime: 0,
  });

export const useTrials = (piece: string) =>
  useQuery({
    queryKey: keys.trials(piece),
    queryFn: async ({ client }) => {
      const trials = await callApi<TrialView[]>('GET', `pieces/${piece}/trials`);
      return trials.filter(({ id }) => !goneTrials(client).has(id));
    },
    // What was told while the answer came is not taken back by it.
    structuralSharing: (told, answer) => withNewest(told as TrialView[] | undefined, answer as TrialView[]),
  });

export const useAllFootage = () =>
  useQuery({
    queryKey: keys.allFootage,
    queryFn: () => callApi<FootageView[]>('GET', 'footage'),
    staleTime: 0,
  });

const footageQuery = (id: string) => ({
  queryKey: keys.footage(id),
  queryFn: () => callApi<FootageView>('GET', `footage/${id}`),
});

const timesQuery = (id: string) => ({
  queryKey: keys.times(id),
  queryFn: () => callApi<FootageTimes>('GET', `footage/${footagePath(id, 'times')}`),
  staleTime: Number.POSITIVE_INFINITY,
});

export const useFootage = (id: string) => useQuery(footageQuery(id));
export const useTimes = (id: string) => useQuery(timesQuery(id));

/** A file and when its frames are shown. */
export interface OpenFile {
  readonly view: FootageView;
  readonly times: FootageTimes;
}

/** Asks for what is not known of a file yet. */
export async function openFile(id: string): Promise<OpenFile> {
  const [view, times] = await Promise.all([
    queryClient.fetchQuery(footageQuery(id)),
    queryClient.fetchQuery(timesQuery(id)),
  ]);
  return { view, times };
}

export const createPiece = (piece: NewPiece) => callApi<PieceView>('POST', 'pieces', piece);
export const savePiece = (id: string, save: PieceSave, options?: CallOptions) =>
  withLayers(() => callApi<PieceView>('PUT', `pieces/${id}`, save, options));
export const requestTrial = (piece: string, recipe: Recipe) =>
  withLayers(() => callApi<TrialView>('POST', `pieces/${piece}/trials`, { recipe }));
export const changeTrial = (id: string, change: TrialChange) =>
  callApi<TrialView>('PATCH', `trials/${id}`, change);
export const deleteTrial = (id: string) => callApi<void>('DELETE', `trials/${id}`);

/** All files of a piece as it is opened. */
export const useOpenFiles = (hashes: readonly string[]) =>
  useQuery({
    queryKey: ['open-files', hashes],
    queryFn: () => Promise.all(hashes.map(openFile)),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

/** Changes to the shelf; the list is read again after each. */
export function useShelfChanges() {
  const client = useQueryClient();
  const again = { onSettled: () => client.invalidateQueries({ queryKey: keys.pieces, exact: true }) };
  const remove = useMutation({
    mutationFn: (id: string) => callApi<void>('DELETE', `pieces/${id}`),
    ...again,
  });
  const restore = useMutation({
    mutationFn: (id: string) => callApi<PieceView>('POST', `pieces/${id}/restore`),
    ...again,
  });
  const duplicate = useMutation({
    mutationFn: (id: string) => callApi<PieceView>('POST', `pieces/${id}/duplicate`),
    ...again,
  });
  const rename = useMutation({
    mutationFn: ({ piece, name }: { piece: PieceView; name: string }) =>
      savePiece(piece.id, { revision: piece.revision, name, recipe: piece.recipe }),
    ...again,
  });
  return { remove, restore, duplicate, rename };
}

/** The address of a trial's finished file; with a name it is saved instead of shown. */
export function trialFileUrl(id: string, saveAs?: string): string {
  return `/api/trials/${id}/file${saveAs ? `?saveAs=${encodeURIComponent(saveAs)}` : ''}`;
}

/** What a finished file shows at a place of the reel. */
export function trialPictureUrl(id: string, place: number): string {
  return `/api/trials/${id}/pictures/${place}`;
}

/** Changes to the library; it is read again after each. */
export function useLibraryChanges() {
  const client = useQueryClient();
  const again = { onSettled: () => client.invalidateQueries({ queryKey: keys.allFootage, exact: true }) };
  const remove = useMutation({
    mutationFn: (id: string) => callApi<void>('DELETE', `footage/${id}`),
    ...again,
  });
  const restore = useMutation({
    mutationFn: (id: string) => callApi<FootageView>('POST', `footage/${id}/restore`),
    ...again,
  });
  return { remove, restore };
}

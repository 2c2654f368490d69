import type { FileKindId } from '@muted-pond/core/files';
import { type SnippetName, USUAL_PATTERN } from '@muted-pond/core/pages';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export const GROUNDS = ['white', 'dark', 'checkerboard'] as const;
export type Ground = (typeof GROUNDS)[number];

/** Megabits a second; 0 waits for nothing. */
export const NETWORKS = [0, 1, 3, 10] as const;
export type Network = (typeof NETWORKS)[number];

interface SendView {
  /** How finished files are named. */
  readonly pattern: string;
  /** The way a page shows the loop; null takes the one that makes most of the files. */
  readonly way: SnippetName | null;
  /** Kinds that are not sent although they are made. */
  readonly left: readonly FileKindId[];
  readonly ground: Ground;
  readonly width: 'real' | 'phone';
  readonly network: Network;
  /** Trials that are looked at side by side, by piece. */
  readonly beside: Readonly<Record<string, readonly string[]>>;
  readonly stage: 'page' | 'beside';
  /** Places that are sent to. */
  readonly places: readonly string[];
  /** Whether a file is fitted first for places that would refuse it. */
  readonly fits: boolean;
}

/** How one sends, kept in this browser. */
export const useSendView = create<SendView>()(
  persist(
    () => ({
      pattern: USUAL_PATTERN as string,
      way: null as SnippetName | null,
      left: [] as readonly FileKindId[],
      ground: 'white' as Ground,
      width: 'real' as 'real' | 'phone',
      network: 0 as Network,
      beside: {} as Readonly<Record<string, readonly string[]>>,
      stage: 'page' as 'page' | 'beside',
      places: [] as readonly string[],
      fits: false as boolean,
    }),
    {
      name: 'muted-pond.send',
      // What is looked at begins anew with each window.
      partialize: ({ pattern, way, left, places, fits }) => ({ pattern, way, left, places, fits }),
    },
  ),
);

export function setSendView(part: Partial<SendView>): void {
  useSendView.setState(part);
}

const NONE: readonly string[] = [];

export function useBeside(piece: string): readonly string[] {
  return useSendView((view) => view.beside[piece]) ?? NONE;
}

export function setBeside(piece: string, trials: readonly string[]): void {
  useSendView.setState(({ beside }) => ({ beside: { ...beside, [piece]: trials } }));
}

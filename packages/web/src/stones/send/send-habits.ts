import type { FileKindId } from '@muted-pond/core/files';
import { type SnippetName, USUAL_PATTERN } from '@muted-pond/core/pages';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** How files are sent, from any piece. */
interface SendHabits {
  /** How finished files are named. */
  readonly pattern: string;
  /** The way a page shows the loop; null takes the one that makes most of the files. */
  readonly way: SnippetName | null;
  /** Kinds that are not sent although they are made. */
  readonly left: readonly FileKindId[];
  /** Places that are sent to. */
  readonly places: readonly string[];
  /** Whether a file is fitted first for places that would refuse it. */
  readonly fits: boolean;
}

/** Kept in this browser. */
export const useSendHabits = create<SendHabits>()(
  persist((): SendHabits => ({ pattern: USUAL_PATTERN, way: null, left: [], places: [], fits: false }), {
    name: 'muted-pond.send',
  }),
);

export function setSendHabits(part: Partial<SendHabits>): void {
  useSendHabits.setState(part);
}

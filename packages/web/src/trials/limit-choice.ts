import type { Limit } from '@muted-pond/core/recipe';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { useLimits } from '../api/limits.js';
import { useWorkspace } from '../piece/workspace-context.js';

interface LimitChoices {
  /** By piece: the limit's id, or null for none. */
  readonly chosen: Readonly<Record<string, string | null>>;
}

/** Which limit each piece is held against; kept in this browser, since it changes nothing in the file. */
const useLimitChoices = create<LimitChoices>()(
  persist(() => ({ chosen: {} }), { name: 'muted-pond.limits' }),
);

export function chooseLimit(piece: string, limit: string | null): void {
  useLimitChoices.setState(({ chosen }) => ({ chosen: { ...chosen, [piece]: limit } }));
}

/** The limit that the piece is held against; null for none. */
export function useChosenLimit(): Limit | null {
  const { pieceId } = useWorkspace();
  const limits = useLimits();
  const id = useLimitChoices((choices) => choices.chosen[pieceId]);
  return limits.find((limit) => limit.id === id) ?? null;
}

import { createStore, type StoreApi } from 'zustand';

/** What belongs to this window only: never saved with the piece, never undone. */
export interface SessionState {
  /** The source frame on the stage. */
  readonly playhead: number;
  readonly playing: boolean;
  /** While a span handle is held: which one. */
  readonly held: 'start' | 'end' | null;
  seek(frame: number): void;
  setPlaying(playing: boolean): void;
  hold(handle: 'start' | 'end' | null): void;
}

export type SessionStore = StoreApi<SessionState>;

export function createSessionStore(playhead: number): SessionStore {
  return createStore<SessionState>()((set) => ({
    playhead,
    playing: true,
    held: null,
    seek: (frame) => set({ playhead: frame }),
    setPlaying: (playing) => set({ playing }),
    hold: (held) => set({ held }),
  }));
}

const placeKey = (piece: string) => `muted-pond.place.${piece}`;

/** Where the hand last was in a piece, so that a reload comes back to it. */
export function recallPlace(piece: string): number | null {
  const text = localStorage.getItem(placeKey(piece));
  const frame = text === null ? Number.NaN : Number(text);
  return Number.isInteger(frame) && frame >= 0 ? frame : null;
}

export function rememberPlace(piece: string, frame: number): void {
  localStorage.setItem(placeKey(piece), String(frame));
}

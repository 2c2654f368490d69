import { createStore, type StoreApi } from 'zustand';

export const SPEEDS = [1, 0.5, 0.25] as const;
export type Speed = (typeof SPEEDS)[number];

/** Which part of the take the strip shows, seconds. */
export interface StripView {
  readonly from: number;
  readonly to: number;
}

/** What belongs to this window only: never saved with the piece, never undone. */
export interface SessionState {
  /** The frame of the take on the stage. */
  readonly playhead: number;
  readonly playing: boolean;
  /** The frame of the reel's round on the stage, for the stones that work on the reel. */
  readonly place: number;
  /** What ← and → step through. */
  readonly walk: 'take' | 'reel';
  /** How fast the span plays for looking. */
  readonly speed: Speed;
  /** While a span handle is held: which one. */
  readonly held: 'start' | 'end' | null;
  /** Null shows the whole take. */
  readonly stripView: StripView | null;
  seek(frame: number): void;
  /** Shows a frame of the reel, and the take's frame with it. */
  seekReel(place: number, frame: number): void;
  walkOn(walk: 'take' | 'reel'): void;
  setPlaying(playing: boolean): void;
  setSpeed(speed: Speed): void;
  grab(handle: 'start' | 'end' | null): void;
  showStrip(view: StripView | null): void;
}

export type SessionStore = StoreApi<SessionState>;

export function createSessionStore(playhead: number): SessionStore {
  return createStore<SessionState>()((set) => ({
    playhead,
    playing: true,
    place: 0,
    walk: 'take',
    speed: 1,
    held: null,
    stripView: null,
    seek: (frame) => set({ playhead: frame }),
    seekReel: (place, frame) => set({ place, playhead: frame }),
    walkOn: (walk) => set({ walk }),
    setPlaying: (playing) => set({ playing }),
    setSpeed: (speed) => set({ speed }),
    grab: (held) => set({ held }),
    showStrip: (stripView) => set({ stripView }),
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

import { createContext, useContext } from 'react';
import type { ComposedFrames } from '../pictures/composed-frames.js';
import type { FrameCache } from '../pictures/frame-cache.js';
import type { SeamStore } from '../seam/seam-store.js';
import type { Autosave } from '../store/autosave.js';
import type { FilesStore } from '../store/files-store.js';
import type { PieceStore } from '../store/piece-store.js';
import type { SessionStore } from '../store/session-store.js';

/** Everything that a stone can reach. One per opened piece. */
export interface Workspace {
  readonly pieceId: string;
  readonly store: PieceStore;
  readonly session: SessionStore;
  readonly seams: SeamStore;
  readonly autosave: Autosave;
  readonly files: FilesStore;
  readonly frames: FrameCache;
  readonly composed: ComposedFrames;
}

export const WorkspaceContext = createContext<Workspace | null>(null);

export function useWorkspace(): Workspace {
  const workspace = useContext(WorkspaceContext);
  if (!workspace) throw new Error('This part of the screen belongs inside a workspace.');
  return workspace;
}

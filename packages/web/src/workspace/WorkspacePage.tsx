import { Loader } from '@mantine/core';
import type { PieceView } from '@muted-pond/core/api';
import { sourceHashes } from '@muted-pond/core/recipe';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { connection } from '../api/connection.js';
import { type OpenFile, savePiece, useOpenFiles, usePiece } from '../api/queries.js';
import { movingPlaces } from '../paint/moving-places.js';
import { ComposedFrames } from '../pictures/composed-frames.js';
import { createFrameCache } from '../pictures/frame-cache.js';
import { pieceTake, useTake } from '../piece/piece-take.js';
import { useWorkspace, type Workspace, WorkspaceContext } from '../piece/workspace-context.js';
import { createSeamStore } from '../seam/seam-store.js';
import { useSeamKeeper } from '../seam/use-seam-keeper.js';
import stage from '../stage/stage.module.css';
import type { Stone, StoneScreen } from '../stone/stone.js';
import { STONES } from '../stones/index.js';
import { createAutosave } from '../store/autosave.js';
import { createFilesStore } from '../store/files-store.js';
import { createPieceStore } from '../store/piece-store.js';
import { resetPieceViews } from '../store/piece-view.js';
import { createSessionStore, recallPlace, rememberPlace } from '../store/session-store.js';
import strip from '../strip/strip.module.css';
import { LostPage } from '../ui/LostPage.js';
import { Scrolled } from '../ui/Scrolled.js';
import { sentenceOf } from '../ui/sentence.js';
import { useWeaveKeeper } from '../weave/use-weave-keeper.js';
import { Course } from './Course.js';
import { TopBar } from './TopBar.js';
import { useWorkspaceKeys } from './use-workspace-keys.js';
import classes from './workspace.module.css';

/** The other stones' screens are fetched so long after the first, ms. */
const FETCHED_AFTER_MS = 1500;

/** Opens a piece: reads it and all that is known of its files, then hands them to the workspace. */
export function WorkspacePage() {
  const { piece: id = '' } = useParams();
  return <Opening key={id} id={id} />;
}

/**
 * From the moment it is open, the workspace is the truth: what is read again after a gap, or cannot be read,
 * neither closes it nor opens it anew, or its undo steps would be lost.
 */
function Opening({ id }: { id: string }) {
  const asked = usePiece(id);
  const piece = useFirst(asked.data);
  return <OpenedOr problem={asked.error}>{piece && <WithFiles key={piece.id} piece={piece} />}</OpenedOr>;
}

function WithFiles({ piece }: { piece: PieceView }) {
  const asked = useOpenFiles(sourceHashes(piece.recipe));
  const files = useFirst(asked.data);
  return <OpenedOr problem={asked.error}>{files && <OpenPiece piece={piece} opened={files} />}</OpenedOr>;
}

/** The first value that came. */
function useFirst<Value>(value: Value | undefined): Value | undefined {
  const first = useRef(value);
  first.current ??= value;
  return first.current;
}

function OpenedOr({ problem, children }: { problem: Error | null; children: React.ReactNode }) {
  if (children) return children;
  if (problem) return <LostPage message={sentenceOf(problem)} />;
  return (
    <main className={classes.opening} aria-label="Opening the piece">
      <Loader color="lily" />
    </main>
  );
}

/** The stores and caches of a piece that is opened. */
function openWorkspace(piece: PieceView, opened: readonly OpenFile[]): Workspace {
  const store = createPieceStore(piece);
  const files = createFilesStore(opened);
  const { frameCount } = pieceTake(piece.recipe, files.getState().files);
  const start = Math.min(recallPlace(piece.id) ?? piece.recipe.span.start, frameCount - 1);
  return {
    pieceId: piece.id,
    store,
    files,
    session: createSessionStore(start),
    seams: createSeamStore(),
    autosave: createAutosave(store, piece, {
      save: savePiece,
      later(run, ms) {
        const timer = setTimeout(run, ms);
        return () => clearTimeout(timer);
      },
    }),
    frames: createFrameCache((key) => `/api/footage/${key}`),
    composed: new ComposedFrames(
      () => new Worker(new URL('../workers/compose.worker.ts', import.meta.url), { type: 'module' }),
    ),
  };
}

function OpenPiece({ piece, opened }: { piece: PieceView; opened: readonly OpenFile[] }) {
  const { stone: stoneName } = useParams();
  const stone = STONES.find((candidate) => candidate.id === stoneName);
  // Made once for the piece as it was opened; later saves must not make it anew.
  const [workspace] = useState(() => openWorkspace(piece, opened));

  useEffect(() => {
    const { autosave, session } = workspace;
    const leave = () => {
      rememberPlace(piece.id, session.getState().playhead);
      void autosave.flush({ leaving: true });
    };
    const onHidden = () => document.visibilityState === 'hidden' && leave();
    // What cannot be saved, or is too large to be sent by a page that is gone, is asked about.
    const onLeaving = (event: BeforeUnloadEvent) => {
      if (autosave.wouldBeLost()) event.preventDefault();
    };
    window.addEventListener('pagehide', leave);
    window.addEventListener('beforeunload', onLeaving);
    document.addEventListener('visibilitychange', onHidden);
    const unfollow = connection.subscribe(() => {
      workspace.frames.forgive();
      autosave.tryAgain();
    });
    return () => {
      unfollow();
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('beforeunload', onLeaving);
      document.removeEventListener('visibilitychange', onHidden);
      leave();
      workspace.frames.clear();
      workspace.composed.end();
      resetPieceViews();
    };
  }, [workspace, piece.id]);

  useEffect(() => {
    document.title = `${piece.name} · Muted Pond`;
    return () => {
      document.title = 'Muted Pond';
    };
  }, [piece.name]);

  if (!stone) return <LostPage message="The course has no stone of that name." />;
  return (
    <WorkspaceContext value={workspace}>
      <Opened stone={stone} />
    </WorkspaceContext>
  );
}

function Opened({ stone }: { stone: Stone }) {
  const { store, seams } = useWorkspace();
  useWorkspaceKeys();
  useSeamKeeper({ store, seams, take: useTake(), movingPlaces });
  useWeaveKeeper();
  // Once this stone is there, the others are fetched, so that nobody waits when walking on.
  useEffect(() => {
    const idle = window.setTimeout(() => {
      for (const { load } of STONES) void load().catch(() => {});
    }, FETCHED_AFTER_MS);
    return () => clearTimeout(idle);
  }, []);
  return (
    <div className={classes.workspace}>
      <TopBar>
        <Course current={stone.id} />
      </TopBar>
      <StoneScreenOf stone={stone} />
    </div>
  );
}

/** The screen of a stone, fetched when it is first entered. */
function StoneScreenOf({ stone }: { stone: Stone }) {
  const { Stage, Bank, Lower } = lazyScreen(stone);
  return (
    <Suspense fallback={<NotYet stone={stone} />}>
      <Stage />
      <aside className={classes.bank} aria-label={`${stone.name}: settings`}>
        <Scrolled className={classes.bankScroll} key={stone.id}>
          <Bank />
        </Scrolled>
      </aside>
      <Lower />
    </Suspense>
  );
}

/** The same three parts, empty. */
function NotYet({ stone }: { stone: Stone }) {
  return (
    <>
      <div className={stage.stage} />
      <aside className={classes.bank} aria-label={`${stone.name}: settings`} />
      <section className={strip.strip} />
    </>
  );
}

const screens = new Map<string, StoneScreen>();

function lazyScreen({ id, load }: Stone): StoneScreen {
  const part = (name: keyof StoneScreen) => lazy(async () => ({ default: (await load()).screen[name] }));
  const screen = screens.get(id) ?? { Stage: part('Stage'), Bank: part('Bank'), Lower: part('Lower') };
  screens.set(id, screen);
  return screen;
}

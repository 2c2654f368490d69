import { Loader } from '@mantine/core';
import type { FootageTimes, FootageView, PieceView } from '@muted-pond/core/api';
import { useEffect, useMemo } from 'react';
import { useParams } from 'react-router';
import { savePiece, useFootage, usePiece, useTimes } from '../api/queries.js';
import { createFrameCache } from '../stage/frame-cache.js';
import { type BuiltStone, STONES, type Stone } from '../stones/index.js';
import { UnbuiltScreen } from '../stones/unbuilt/UnbuiltScreen.js';
import { createAutosave } from '../store/autosave.js';
import { createPieceStore } from '../store/piece-store.js';
import { createSessionStore, recallPlace, rememberPlace } from '../store/session-store.js';
import { LostPage } from '../ui/LostPage.js';
import { Course } from './Course.js';
import { TopBar } from './TopBar.js';
import { useWorkspaceKeys } from './use-workspace-keys.js';
import classes from './workspace.module.css';
import { type Workspace, WorkspaceContext } from './workspace-context.js';

/** Opens a piece: reads it, its footage and its times, then hands them to the workspace. */
export function WorkspacePage() {
  const { piece: id = '' } = useParams();
  const piece = usePiece(id);
  const source = piece.data?.recipe.sources[0].hash;
  return (
    <OpenedOr problem={piece.error}>
      {piece.data && source && <WithFootage key={piece.data.id} piece={piece.data} source={source} />}
    </OpenedOr>
  );
}

function WithFootage({ piece, source }: { piece: PieceView; source: string }) {
  const footage = useFootage(source);
  const times = useTimes(source);
  return (
    <OpenedOr problem={footage.error ?? times.error}>
      {footage.data && times.data && <OpenPiece piece={piece} footage={footage.data} times={times.data} />}
    </OpenedOr>
  );
}

function OpenedOr({ problem, children }: { problem: Error | null; children: React.ReactNode }) {
  if (problem) return <LostPage message={problem.message} />;
  if (children) return children;
  return (
    <main className={classes.opening} aria-label="Opening the piece">
      <Loader color="lily" />
    </main>
  );
}

interface OpenPieceProps {
  readonly piece: PieceView;
  readonly footage: FootageView;
  readonly times: FootageTimes;
}

function OpenPiece({ piece, footage, times }: OpenPieceProps) {
  const { stone: stoneName } = useParams();
  const stone = STONES.find((candidate) => candidate.id === stoneName);
  // Made once for the piece as it was opened; later saves must not make them anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  const kept = useMemo(() => {
    const store = createPieceStore(piece);
    const start = Math.min(recallPlace(piece.id) ?? piece.recipe.span.start, footage.frameCount - 1);
    return {
      store,
      session: createSessionStore(start),
      autosave: createAutosave(store, piece, {
        save: savePiece,
        later(run, ms) {
          const timer = setTimeout(run, ms);
          return () => clearTimeout(timer);
        },
      }),
      frames: createFrameCache((frame) => `/api/footage/${footage.id}/frames/${frame}`),
    };
  }, [piece.id, footage.id]);
  const workspace = useMemo<Workspace>(
    () => ({ pieceId: piece.id, footage, times, ...kept }),
    [piece.id, footage, times, kept],
  );

  useEffect(() => {
    const { autosave, session } = kept;
    const leave = () => {
      rememberPlace(piece.id, session.getState().playhead);
      void autosave.flush();
    };
    const onHidden = () => document.visibilityState === 'hidden' && leave();
    window.addEventListener('pagehide', leave);
    document.addEventListener('visibilitychange', onHidden);
    return () => {
      window.removeEventListener('pagehide', leave);
      document.removeEventListener('visibilitychange', onHidden);
      leave();
    };
  }, [kept, piece.id]);

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
  useWorkspaceKeys();
  return (
    <div className={classes.workspace}>
      <TopBar>
        <Course current={stone.id} />
      </TopBar>
      {stone.built ? <BuiltScreen stone={stone} /> : <UnbuiltScreen stone={stone} />}
    </div>
  );
}

function BuiltScreen({ stone }: { stone: BuiltStone }) {
  const { Stage, Bank, Lower } = stone;
  return (
    <>
      <Stage />
      <aside className={classes.bank} aria-label={`${stone.name}: settings`}>
        <Bank />
      </aside>
      <Lower />
    </>
  );
}

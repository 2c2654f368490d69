import { MantineProvider } from '@mantine/core';
import { ModalsProvider } from '@mantine/modals';
import { Notifications, notifications } from '@mantine/notifications';
import type { FootageView, PieceView } from '@muted-pond/core/api';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import {
  createMemoryRouter,
  MemoryRouter,
  type RouteObject,
  RouterProvider,
  useLocation,
} from 'react-router';
import { vi } from 'vitest';
import type { OpenFile } from '../api/queries.js';
import { ComposedFrames } from '../pictures/composed-frames.js';
import { createFrameCache } from '../pictures/frame-cache.js';
import { type Workspace, WorkspaceContext } from '../piece/workspace-context.js';
import { createSeamStore } from '../seam/seam-store.js';
import { createAutosave } from '../store/autosave.js';
import { createFilesStore } from '../store/files-store.js';
import { createPieceStore } from '../store/piece-store.js';
import { createSessionStore } from '../store/session-store.js';
import { theme } from '../theme.js';
import { type Answers, scriptedServer } from './scripted-server.js';

// What is waited for comes in its own time on a busy machine.
configure({ asyncUtilTimeout: 10_000 });

export const HASH = 'a'.repeat(64);
/** Ten seconds of made-up footage at 25 frames a second. */
export const TIMES = { starts: Array.from({ length: 250 }, (_, i) => i / 25), duration: 10 };

const VIEW = {
  ...{ id: HASH, name: 'kettle.mov', kind: 'video', bytes: 1_000_000, container: 'mov', codec: 'h264' },
  ...{ width: 640, height: 360, frames: 250, seconds: 10, strip: { count: 48, made: 48 } },
} as unknown as FootageView;

/** What jsdom has not, and components ask for. */
function completeBrowser(): void {
  window.matchMedia ??= ((query: string) => ({
    ...{ matches: false, media: query, addListener() {}, removeListener() {} },
    ...{ addEventListener() {}, removeEventListener() {} },
  })) as never;
  globalThis.ResizeObserver ??= class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  Element.prototype.scrollIntoView ??= () => {};
  Element.prototype.scrollTo ??= () => {};
  if (!document.fonts) {
    const fonts = { addEventListener() {}, removeEventListener() {} };
    Object.defineProperty(document, 'fonts', { value: fonts });
  }
}

/** An opened piece, as the stones see it. Nothing leaves it: what would be sent is refused. */
export function openedPiece(edit: (recipe: Recipe) => Recipe = (recipe) => recipe): Workspace {
  const recipe = edit(newRecipe(HASH, TIMES));
  const piece = { id: 'piece', name: 'First kettle of the day', about: '', revision: 1, recipe } as PieceView;
  const store = createPieceStore(piece);
  const file: OpenFile = { view: VIEW, times: TIMES };
  return {
    ...{ pieceId: piece.id, store, session: createSessionStore(0), seams: createSeamStore() },
    files: createFilesStore([file]),
    autosave: createAutosave(store, piece, { save: async () => piece, later: () => () => {} }),
    frames: createFrameCache((key) => key),
    composed: new ComposedFrames(() => {
      throw new Error('No worker is started here.');
    }),
  };
}

interface ShowOptions {
  /** What the server answers; without them it cannot be reached. */
  readonly answers?: Answers;
  /** The address at which it is shown. */
  readonly at?: string;
  /** Pages by their addresses, instead of one thing at all of them. */
  readonly routes?: RouteObject[];
}

/** Shows something inside an opened piece, or outside of one. @returns all requests as `calls`, too. */
export function show(
  what: ReactNode,
  workspace: Workspace | null = null,
  { answers, at = '/', routes }: ShowOptions = {},
) {
  completeBrowser();
  cleanup();
  notifications.clean();
  vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Nothing can be reached here.')));
  const calls = answers ? scriptedServer(answers) : [];
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const router = routes && createMemoryRouter(routes, { initialEntries: [at] });
  const routed = (part: ReactNode) =>
    router ? (
      <RouterProvider router={router} />
    ) : (
      <MemoryRouter initialEntries={[at]}>
        {workspace ? <WorkspaceContext value={workspace}>{part}</WorkspaceContext> : part}
      </MemoryRouter>
    );
  const inside = (part: ReactNode) => (
    <MantineProvider theme={theme} env="test">
      <QueryClientProvider client={client}>
        <ModalsProvider>
          <Notifications />
          {routed(part)}
        </ModalsProvider>
      </QueryClientProvider>
    </MantineProvider>
  );
  return { client, inside, calls, ...render(inside(what)) };
}

/** What a button that is off says of why; null while it is on. */
export function whyOff(button: HTMLElement): string | null {
  if (button.getAttribute('aria-disabled') !== 'true') return null;
  return document.getElementById(button.getAttribute('aria-describedby') ?? '')?.textContent ?? '';
}

/** Says where one is, for tests that walk. */
export function Where() {
  return <output data-testid="where">{useLocation().pathname}</output>;
}

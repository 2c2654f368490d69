import { mkdtempSync, rmSync } from 'node:fs';
import { readdir, readFile, utimes } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FootageView, PieceView, PondEvent, TrialView } from '@muted-pond/core/api';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { readToken } from '../src/access/index.js';
import { createApp } from '../src/create-app.js';
import { PondEvents } from '../src/jobs/index.js';

/** The whole server on a free port with its own data, real SQLite and real ffmpeg. */
export interface TestApp {
  readonly url: string;
  readonly dataDir: string;
  readonly nest: NestExpressApplication;
  /** What a browser must show where the server is opened to a network. */
  token(): string;
  ask<T>(method: string, path: string, body?: unknown): Promise<{ status: number; type: string; body: T }>;
  upload(name: string, bytes: Uint8Array): Promise<{ status: number; body: FootageView & Problem }>;
  /** Resolves with the first event that is wanted, from now on. */
  event(wanted: (event: PondEvent) => boolean): Promise<PondEvent>;
  /** Everything below the data folder but the database and the cache. */
  keptFiles(): Promise<string[]>;
  /** Ends the server; with `keep`, its data stay for the next. */
  stop(keep?: boolean): Promise<void>;
}

export interface Problem {
  readonly status: number;
  readonly code: string;
  readonly title: string;
}

export async function startApp(
  options: {
    dataDir?: string;
    mostUploadBytes?: number;
    demoDir?: string;
    host?: string;
    practicePort?: number;
  } = {},
): Promise<TestApp> {
  // In a folder that begins with a dot, as the one that people have by default.
  const dataDir = options.dataDir ?? mkdtempSync(join(tmpdir(), '.muted-pond-server-'));
  const nest = await createApp(
    {
      port: 0,
      host: options.host ?? '',
      dataDir,
      webDir: '',
      demoDir: options.demoDir ?? '',
      practicePort: options.practicePort ?? null,
      mostUploadBytes: options.mostUploadBytes ?? 1e9,
    },
    false,
  );
  await nest.listen(0, '127.0.0.1');
  const url = `http://127.0.0.1:${(nest.getHttpServer().address() as { port: number }).port}`;
  return {
    url,
    dataDir,
    nest,
    token: () => readToken(join(dataDir, 'token')),
    async ask(method, path, body) {
      const response = await fetch(`${url}/api/${path}`, {
        method,
        ...(body === undefined
          ? {}
          : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      });
      const text = await response.text();
      const type = response.headers.get('content-type') ?? '';
      return { status: response.status, type, body: text === '' ? undefined : JSON.parse(text) };
    },
    async upload(name, bytes) {
      const response = await fetch(`${url}/api/footage?name=${encodeURIComponent(name)}`, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: bytes,
      });
      return { status: response.status, body: (await response.json()) as FootageView & Problem };
    },
    event(wanted) {
      return new Promise((resolve) => {
        const subscription = nest.get(PondEvents).stream.subscribe((event) => {
          if (!wanted(event)) return;
          subscription.unsubscribe();
          resolve(event);
        });
      });
    },
    async keptFiles() {
      const all = await readdir(dataDir, { recursive: true, withFileTypes: true });
      return all
        .filter((entry) => entry.isFile())
        .map((entry) => join(entry.parentPath, entry.name))
        .filter((path) => /\/(blobs|incoming)\//.test(path));
    },
    async stop(keep = false) {
      await nest.close();
      if (!keep) rmSync(dataDir, { recursive: true, force: true });
    },
  };
}

/** Brings a clip in and makes a piece over it. */
export async function pieceOver(
  app: TestApp,
  path: string,
  name: string,
): Promise<{ footage: FootageView; piece: PieceView }> {
  const { body: footage } = await app.upload(name, await readFile(path));
  const { body: piece } = await app.ask<PieceView>('POST', 'pieces', { footage: footage.id });
  return { footage, piece };
}

/** Asks for a trial and waits until that one is finished, whichever way. */
export async function finishedTrial(app: TestApp, piece: string, recipe: unknown): Promise<TrialView> {
  let id: string | null = null;
  const ended = new Map<string, TrialView>();
  const told = app.event((event) => {
    if (event.type === 'trial' && !['waiting', 'working'].includes(event.trial.state)) {
      ended.set(event.trial.id, event.trial);
    }
    return id !== null && ended.has(id);
  });
  const { body } = await app.ask<TrialView>('POST', `pieces/${piece}/trials`, { recipe });
  if (body.state === 'done') return body;
  id = body.id;
  if (!ended.has(id)) await told;
  return ended.get(id) as TrialView;
}

/** As if everything in the store had been written days ago. */
export async function makeOld(dataDir: string): Promise<void> {
  const long = new Date(Date.now() - 3 * 86_400_000);
  for (const entry of await readdir(join(dataDir, 'blobs'), { recursive: true, withFileTypes: true })) {
    if (entry.isFile()) await utimes(join(entry.parentPath, entry.name), long, long);
  }
}

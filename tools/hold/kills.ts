import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import sharp from 'sharp';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView, LayerView, PieceView, TrialView } from '../../packages/core/src/api/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { startServer } from '../server-process.js';
import { ask } from './asking.js';

/** What the server said that it had written down. */
interface Account {
  /** The newest save of each piece that was acknowledged. */
  readonly saves: Map<string, { readonly revision: number; readonly name: string }>;
  readonly uploads: Set<string>;
  readonly layers: Set<string>;
  readonly trials: Map<string, string>;
  /** Uploads part by part: what was acknowledged of each, and all of its bytes. */
  readonly uploading: Map<string, { readonly offset: number; readonly bytes: Uint8Array }>;
}

/** Long enough for the first paint and the first trial of a server that has just started. */
const LONGEST_LIFE_MS = 4000;

/**
 * Kills the server in the middle of saves, uploads, paint and trials, and holds what is there afterwards
 * against what it had acknowledged.
 */
export async function holdKills(rounds: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const home = mkdtempSync(join(tmpdir(), 'muted-pond-kills-'));
  const account: Account = {
    ...{ saves: new Map(), uploads: new Set(), layers: new Set(), trials: new Map(), uploading: new Map() },
  };
  const lost: string[] = [];
  let refused = 0;
  try {
    for (let round = 0; round < rounds; round++) {
      const server = await startServer({ demo: false, home });
      lost.push(...(await missing(server.url, server.dataDir, account, `round ${round}`)));
      const life = wholeFrom(random, 50, LONGEST_LIFE_MS);
      const until = performance.now() + life;
      const isOver = () => performance.now() > until;
      const work = [
        saving(server.url, account, isOver, random),
        sending<FootageView>(
          server.url,
          'footage?name=made.png',
          ({ id }) => account.uploads.add(id),
          isOver,
          random,
        ),
        sending<LayerView>(
          server.url,
          'layers?name=paint.png',
          ({ hash }) => account.layers.add(hash),
          isOver,
          random,
        ),
        making(server.url, account, isOver),
        sendingInParts(server.url, account, isOver, random),
      ].map((one) =>
        one.then((count) => {
          refused += count;
        }),
      );
      await new Promise((resolve) => setTimeout(resolve, life));
      await server.kill();
      await Promise.all(work);
    }
    const last = await startServer({ demo: false, home });
    lost.push(...(await missing(last.url, last.dataDir, account, 'the end')));
    await last.stop();
  } finally {
    rmSync(home, { recursive: true, force: true });
  }
  for (const sentence of lost.slice(0, 10)) process.stdout.write(`  lost: ${sentence}\n`);
  const { saves, uploads, layers, trials } = account;
  const acknowledged = [...saves.values()].reduce((sum, { revision }) => sum + revision, 0);
  return [
    {
      what: `${rounds} kills: acknowledged writes that are gone (of ${acknowledged} saves, ${uploads.size} files, ${layers.size} paints, ${trials.size} trials)`,
      figure: String(lost.length),
      wanted: '0',
      reached: lost.length === 0,
    },
    {
      what: `${rounds} kills: answers of 500 and more`,
      figure: String(refused),
      wanted: '0',
      reached: refused === 0,
    },
  ];
}

type Random = () => number;

async function picture(random: Random): Promise<Uint8Array> {
  const [width, height] = [wholeFrom(random, 4, 60), wholeFrom(random, 4, 60)];
  const background = {
    r: wholeFrom(random, 0, 255),
    g: wholeFrom(random, 0, 255),
    b: wholeFrom(random, 0, 255),
  };
  return sharp({ create: { width, height, channels: 3, background } })
    .png()
    .toBuffer();
}

async function saving(url: string, { saves, uploads }: Account, isOver: () => boolean, random: Random) {
  let failed = 0;
  for (let i = 0; !isOver(); i++) {
    const ids = [...saves.keys()];
    if (ids.length < 6 || random() < 0.05) {
      const file = [...uploads][wholeFrom(random, 0, Math.max(0, uploads.size - 1))];
      if (!file) {
        await new Promise((resolve) => setTimeout(resolve, 5));
        continue;
      }
      const made = await ask<PieceView>(url, 'POST', 'pieces', { stills: [file] });
      if (made?.status === 201) saves.set(made.body.id, { revision: 0, name: made.body.name });
      else if (made && made.status >= 500) failed++;
      continue;
    }
    const id = ids[wholeFrom(random, 0, ids.length - 1)];
    const now = await ask<PieceView>(url, 'GET', `pieces/${id}`);
    if (now?.status !== 200) continue;
    const { revision, recipe } = now.body;
    const name = `save ${i} of ${wholeFrom(random, 0, 1e9)}`;
    const saved = await ask<PieceView>(url, 'PUT', `pieces/${id}`, { revision, name, recipe });
    if (saved?.status === 200) saves.set(id, { revision: saved.body.revision, name });
    else if (saved && saved.status >= 500) failed++;
  }
  return failed;
}

/**
 * Sends pictures to one door, one after the other.
 * @param keep is given each answer that acknowledged one.
 */
async function sending<T>(
  url: string,
  path: string,
  keep: (acknowledged: T) => void,
  isOver: () => boolean,
  random: Random,
) {
  let failed = 0;
  while (!isOver()) {
    const sent = await ask<T>(url, 'POST', path, await picture(random));
    if (sent?.status === 201) keep(sent.body);
    else if (sent && sent.status >= 500) failed++;
  }
  return failed;
}

/** Sends pictures part by part (tus 1.0), and goes on with those that a kill has broken off. */
async function sendingInParts(url: string, account: Account, isOver: () => boolean, random: Random) {
  const { uploading, uploads } = account;
  const tus = { 'tus-resumable': '1.0.0' };
  const reach = (path: string, options: RequestInit) => fetch(`${url}${path}`, options).catch(() => null);
  let failed = 0;
  while (!isOver()) {
    let [at, upload] = [...uploading][0] ?? [];
    if (!at || !upload) {
      const bytes = await picture(random);
      const begun = await reach('/api/uploads', {
        method: 'POST',
        headers: { ...tus, 'upload-length': String(bytes.length), 'upload-metadata': 'name cC5wbmc=' },
      });
      if (begun && begun.status >= 500) failed++;
      const location = begun?.headers.get('location');
      if (!location) continue;
      at = new URL(location, url).pathname;
      upload = { offset: 0, bytes };
      uploading.set(at, upload);
    }
    const { offset, bytes } = upload;
    const end = Math.min(bytes.length, offset + Math.max(1, Math.ceil(bytes.length / 3)));
    const sent = await reach(at, {
      method: 'PATCH',
      headers: { ...tus, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
      body: new Uint8Array(bytes.subarray(offset, end)),
    });
    if (!sent) continue;
    if (sent.status >= 500) failed++;
    const text = await sent.text().catch(() => null);
    if (sent.status === 204) uploading.set(at, { offset: end, bytes });
    else if (sent.status === 200 && text) {
      uploads.add((JSON.parse(text) as FootageView).id);
      uploading.delete(at);
    } else {
      // Another part of it had arrived; how far it came is asked.
      const asked = await reach(at, { method: 'HEAD', headers: tus });
      const footage = asked?.headers.get('upload-footage');
      const came = asked?.headers.get('upload-offset');
      if (footage) uploads.add(footage);
      if (footage || asked?.status === 404 || asked?.status === 410) uploading.delete(at);
      else if (came) uploading.set(at, { offset: Number(came), bytes });
    }
  }
  return failed;
}

async function making(url: string, { saves, trials }: Account, isOver: () => boolean) {
  let failed = 0;
  for (let i = 0; !isOver(); i++) {
    const ids = [...saves.keys()];
    const id = ids[i % Math.max(1, ids.length)];
    const now = id ? await ask<PieceView>(url, 'GET', `pieces/${id}`) : null;
    if (now?.status !== 200) {
      await new Promise((resolve) => setTimeout(resolve, 10));
      continue;
    }
    const recipe = { ...now.body.recipe, plays: i };
    const asked = await ask<TrialView>(url, 'POST', `pieces/${id}/trials`, { recipe });
    if (asked && asked.status >= 500) failed++;
    for (let turn = 0; turn < 100 && !isOver(); turn++) {
      const all = await ask<TrialView[]>(url, 'GET', `pieces/${id}/trials`);
      const trial = all?.body.find?.((one) => one.id === asked?.body.id);
      if (trial?.state === 'done') trials.set(trial.id, id);
      if (!trial || !['waiting', 'working'].includes(trial.state)) break;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
  }
  return failed;
}

/**
 * What was acknowledged and is not there, or not as it was.
 *
 * @throws when the server does not answer: that is not a loss, and says nothing about what is there.
 */
async function missing(url: string, dataDir: string, account: Account, when: string): Promise<string[]> {
  const lost: string[] = [];
  const say = (what: string) => lost.push(`${when}: ${what}`);
  for (const [id, { revision, name }] of account.saves) {
    const piece = await get<PieceView>(url, `pieces/${id}`);
    if (piece.status !== 200) say(`piece ${id} (${piece.status})`);
    // A save whose answer was cut off may be there all the same.
    else if (piece.body.revision < revision) say(`revision ${revision} of piece ${id}`);
    else if (piece.body.revision === revision && piece.body.name !== name) say(`the name of piece ${id}`);
  }
  for (const hash of [...account.uploads, ...account.layers]) {
    const bytes = await readFile(join(dataDir, 'blobs', hash.slice(0, 2), hash)).catch(() => null);
    if (!bytes) say(`file ${hash}`);
    else if (createHash('sha256').update(bytes).digest('hex') !== hash) say(`the bytes of ${hash}`);
  }
  for (const [at, { offset, bytes }] of account.uploading) {
    const asked = await fetch(`${url}${at}`, { method: 'HEAD', headers: { 'tus-resumable': '1.0.0' } });
    const footage = asked.headers.get('upload-footage');
    const came = Number(asked.headers.get('upload-offset') ?? -1);
    if (footage) account.uploads.add(footage);
    if (came < offset) say(`parts of an upload (${came} of ${offset} bytes, ${asked.status})`);
    if (footage || came < 0) account.uploading.delete(at);
    else account.uploading.set(at, { offset: came, bytes });
  }
  const known = new Set((await get<FootageView[]>(url, 'footage')).body.map(({ id }) => id));
  for (const hash of account.uploads) if (!known.has(hash)) say(`the row of file ${hash}`);
  for (const [id, piece] of account.trials) {
    const all = await get<TrialView[]>(url, `pieces/${piece}/trials`);
    const trial = all.body.find((one) => one.id === id);
    // Old trials make room for new ones by themselves.
    if (!trial) {
      if (all.body.length < 24) say(`trial ${id}`);
      account.trials.delete(id);
      continue;
    }
    const file = await fetch(`${url}/api/trials/${id}/file`);
    if ((await file.arrayBuffer()).byteLength !== trial.figures?.bytes) say(`the file of trial ${id}`);
  }
  const database = new Database(join(dataDir, 'muted-pond.sqlite'), { readonly: true });
  if (database.pragma('integrity_check', { simple: true }) !== 'ok') say('the integrity of the database');
  database.close();
  return lost;
}

async function get<T>(url: string, path: string) {
  const answer = await ask<T>(url, 'GET', path);
  if (!answer) throw new Error(`The server gave no answer to ${path}: it was ended by something else.`);
  return answer;
}

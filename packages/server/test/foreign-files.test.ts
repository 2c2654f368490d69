import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { LayerView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { IsolatedProcess } from '../src/processes/index.js';
import { startApp, type TestApp } from './app.js';
import type { HurtfulRequest } from './hurtful.process.js';
import { processesWith } from './processes.js';

describe('a process that reads strange files', () => {
  const isolated = new IsolatedProcess<HurtfulRequest, number>(
    new URL('./hurtful.process.ts', import.meta.url),
  );
  const ask = (request: HurtfulRequest, timeLimitMs = 20_000) =>
    isolated.run(request, { name: 'strange.ttf', timeLimitMs });

  it('answers, and is used again', async () => {
    const [first, second] = [await ask('pid'), await ask('pid')];
    expect([first, second]).toEqual([expect.any(Number), first]);
    expect(first).not.toBe(process.pid);
  });

  it.each([
    ['ends by itself', 'exit', 'reading it ended the reader'],
    ['crashes as a library would', 'abort', 'reading it ended the reader'],
    ['fills its heap', 'fill the heap', 'reading it ended the reader'],
    ['takes memory beside its heap', 'take memory', 'takes more memory to read than there is for it'],
    ['never ends', 'spin', 'took longer than 1 s to read'],
  ] as const)(
    'that %s is told in a sentence, and the next file finds another',
    async (_, request, sentence) => {
      const refused = ask(request, request === 'spin' ? 1000 : 50_000);
      await expect(refused).rejects.toThrow(UserError);
      await expect(refused).rejects.toThrow(`“strange.ttf” `);
      await expect(refused).rejects.toThrow(sentence);
      expect(await ask('pid')).toEqual(expect.any(Number));
    },
  );

  it('refuses in the words of whoever refused, and others go on meanwhile', async () => {
    const [refused, pid] = await Promise.allSettled([ask('refuse'), ask('pid')]);
    expect(refused).toMatchObject({ reason: { code: 'bad_font', message: 'No font.' } });
    expect(pid.status).toBe('fulfilled');
  });

  it('ends with the process that started it, also while it never ends by itself', async () => {
    const code = `
      const { IsolatedProcess } = await import(${JSON.stringify(new URL('../src/processes/index.ts', import.meta.url).href)});
      const isolated = new IsolatedProcess(new URL(${JSON.stringify(new URL('./hurtful.process.ts', import.meta.url).href)}));
      await isolated.run('pid', { name: 'it', timeLimitMs: 60000 });
      void isolated.run('spin', { name: 'it', timeLimitMs: 60000 });
      setTimeout(() => process.kill(process.pid, 'SIGKILL'), 300);`;
    const before = processesWith('hurtful.process.ts', 'node');
    spawnSync(
      process.execPath,
      ['--conditions=@muted-pond/source', '--import', 'tsx', '--input-type=module', '-e', code],
      { cwd: fileURLToPath(new URL('..', import.meta.url)) },
    );
    await vi.waitUntil(() => processesWith('hurtful.process.ts', 'node').length <= before.length, 2000);
  });
});

describe('a damaged font', () => {
  let app: TestApp;
  beforeAll(async () => {
    app = await startApp();
  });
  afterAll(() => app.stop());

  const post = async (bytes: Uint8Array, kind = 'font') => {
    const response = await fetch(`${app.url}/api/layers?kind=${kind}&name=strange.ttf`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: bytes,
    });
    return { status: response.status, body: (await response.json()) as LayerView & { code: string } };
  };

  it('whose table of characters claims billions is refused, and the server answers on', async () => {
    const { status } = await post(claimingBillions());
    expect(status).toBe(422);
    expect((await app.ask('GET', 'pieces')).status).toBe(200);
    expect((await app.keptFiles()).filter((path) => path.includes('/incoming/'))).toEqual([]);
    // The next one is read.
    expect((await post(font())).status).toBe(201);
  });

  const font = () => readFileSync(new URL('../../core/fonts/round-head.ttf', import.meta.url));

  /** Its groups of characters go from 0 to 2³² − 2 (OpenType 1.9, “cmap”, format 12). */
  function claimingBillions(): Buffer {
    const file = font();
    const entry = tableEntry(file, 'cmap');
    const groups = 400;
    const table = Buffer.alloc(12 + 16 + groups * 12);
    table.writeUInt16BE(1, 2); // numTables
    table.writeUInt16BE(3, 4); // platformID: Windows
    table.writeUInt16BE(10, 6); // encodingID: Unicode
    table.writeUInt32BE(12, 8); // subtableOffset
    table.writeUInt16BE(12, 12); // format
    table.writeUInt32BE(16 + groups * 12, 16); // length
    table.writeUInt32BE(groups, 24); // numGroups
    for (let group = 0; group < groups; group++) {
      table.writeUInt32BE(0, 28 + group * 12); // startCharCode
      table.writeUInt32BE(0xffff_fffe, 32 + group * 12); // endCharCode
    }
    const out = Buffer.concat([file, table]);
    out.writeUInt32BE(file.length, entry + 8);
    out.writeUInt32BE(table.length, entry + 12);
    return out;
  }

  function tableEntry(file: Buffer, name: string): number {
    for (let at = 12; at < 12 + file.readUInt16BE(4) * 16; at += 16) {
      if (file.toString('latin1', at, at + 4) === name) return at;
    }
    throw new Error(`No table ${name}.`);
  }
});

import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessRules, refusalOf } from '../src/access/index.js';
import { startApp, type TestApp } from './app.js';

const own = accessRules('', null);
const approach = { method: 'GET', path: '/api/pieces', host: 'localhost:4173', hasBody: false };

describe('who is let in', () => {
  it.each([
    ['a program without a browser', {}],
    ['the interface', { site: 'same-origin', origin: 'http://localhost:4173' }],
    ['an address that was typed', { site: 'none', dest: 'document', path: '/' }],
    [
      'a link from elsewhere to the interface',
      { site: 'cross-site', dest: 'document', path: '/pieces/1/cut' },
    ],
    ['settings', { method: 'PUT', hasBody: true, contentType: 'application/json; charset=utf-8' }],
    ['a file', { method: 'POST', hasBody: true, contentType: 'application/octet-stream' }],
    ['IPv6', { host: '[::1]:4173' }],
    ['127.0.0.1', { host: '127.0.0.1:80', origin: 'http://127.0.0.1:80' }],
  ])('%s', (_, part) => {
    expect(refusalOf({ ...approach, ...part }, own)).toBeNull();
  });

  it.each([
    ['a rebound name', { host: 'pond.example:4173' }, 421],
    ['a name that only begins like ours', { host: 'localhost.example' }, 421],
    ['no name at all', { host: undefined }, 421],
    ['a name with tricks', { host: 'localhost@example.org' }, 421],
    ['a page elsewhere that reads', { site: 'cross-site' }, 403],
    ['a page on another port of this machine', { site: 'same-site', origin: 'http://localhost:9999' }, 403],
    [
      'a picture of ours in a page elsewhere',
      { site: 'cross-site', dest: 'image', path: '/api/footage/a/frames/0' },
      403,
    ],
    ['our page in a frame elsewhere', { site: 'cross-site', dest: 'iframe', path: '/' }, 403],
    ['a link straight into the interface for programs', { site: 'cross-site', dest: 'document' }, 403],
    [
      'the same in large letters, which the router takes alike',
      { site: 'cross-site', dest: 'document', path: '/API/pieces' },
      403,
    ],
    ['the same without anything behind', { site: 'cross-site', dest: 'document', path: '/aPi' }, 403],
    ['an older browser’s foreign page', { method: 'POST', origin: 'https://example.org' }, 403],
    ['a page without an origin', { method: 'POST', origin: 'null' }, 403],
    ['a form', { method: 'POST', hasBody: true, contentType: 'application/x-www-form-urlencoded' }, 415],
    [
      'a form with a file',
      { method: 'POST', hasBody: true, contentType: 'multipart/form-data; boundary=x' },
      415,
    ],
    ['plain text', { method: 'POST', hasBody: true, contentType: 'text/plain' }, 415],
    ['something without a type', { method: 'POST', hasBody: true }, 415],
  ])('not %s', (_, part, status) => {
    expect(refusalOf({ ...approach, ...part }, own)?.status).toBe(status);
  });

  it('where it is opened on purpose: by the name that was given, and no other', () => {
    const opened = accessRules('tea.local', 'secret');
    expect(refusalOf({ ...approach, host: 'tea.local:4173' }, opened)).toBeNull();
    expect(refusalOf({ ...approach, host: 'coffee.local:4173' }, opened)?.status).toBe(421);
  });
});

describe('the running server', () => {
  let app: TestApp;
  beforeAll(async () => {
    app = await startApp();
  });
  afterAll(() => app.stop());

  /** A request as it stands, whatever a browser would make of it. */
  function raw(path: string, headers: Record<string, string>, method = 'GET') {
    const { hostname, port } = new URL(app.url);
    return new Promise<{ status: number; headers: NodeJS.Dict<string | string[]>; body: string }>(
      (resolve, reject) => {
        const sending = request({ hostname, port, path, method, headers }, (response) => {
          let body = '';
          response.setEncoding('utf8');
          response.on('data', (text: string) => (body += text));
          response.on('end', () =>
            resolve({ status: response.statusCode ?? 0, headers: response.headers, body }),
          );
        });
        sending.on('error', reject);
        sending.end();
      },
    );
  }

  it('says on every answer that nobody frames, sniffs or embeds it, and not what it is made with', async () => {
    for (const path of ['/api/pieces', '/api/none', '/api/docs']) {
      const { headers } = await raw(path, {});
      const policy = String(headers['content-security-policy']);
      expect(policy).toContain("frame-ancestors 'none'");
      expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'");
      expect(policy).not.toMatch(/script-src[^;]*unsafe-inline|unsafe-eval'[^;]*'unsafe-eval/);
      expect(headers['x-content-type-options']).toBe('nosniff');
      expect(headers['cross-origin-resource-policy']).toBe('same-origin');
      expect(headers['x-powered-by']).toBeUndefined();
      expect(headers['access-control-allow-origin']).toBeUndefined();
    }
  });

  it('answers no rebound name and no foreign page, on resumable uploads either', async () => {
    expect((await raw('/api/pieces', { host: 'evil.example' })).status).toBe(421);
    expect((await raw('/api/pieces', { 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    const tus = { 'tus-resumable': '1.0.0', 'upload-length': '5', origin: 'https://evil.example' };
    expect((await raw('/api/uploads', tus, 'POST')).status).toBe(403);
    const preflight = await raw('/api/uploads', { origin: 'https://evil.example' }, 'OPTIONS');
    expect(preflight.status).toBe(403);
    const allowed = await raw('/api/uploads', { 'tus-resumable': '1.0.0' }, 'OPTIONS');
    expect(allowed.headers['access-control-allow-origin']).toBeUndefined();
  });

  it('lets no link from elsewhere read what programs read, however it is written', async () => {
    const foreign = { 'sec-fetch-site': 'cross-site', 'sec-fetch-dest': 'document' };
    for (const path of ['/api/pieces', '/API/pieces', '/Api/pieces/', '/api/PIECES']) {
      expect((await raw(path, foreign)).status, path).toBe(403);
    }
  });

  it.each(['//', '//host/x', '/%', '/%00', '/..%2f', '/api//', '//api/pieces'])(
    'answers %s without an error of its own',
    async (path) => {
      const { status, body } = await raw(path, {});
      expect(status).toBeLessThan(500);
      expect(body).not.toMatch(/\bat .*\.(js|ts):\d/);
    },
  );

  it('takes no key that means something to the language', async () => {
    for (const key of ['__proto__', 'constructor', 'prototype']) {
      const response = await fetch(`${app.url}/api/pieces`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: `{"name": "Tea", "stills": [], "more": {"${key}": {"isAdmin": true}}}`,
      });
      expect(response.status).toBe(400);
      expect(((await response.json()) as { title: string }).title).toContain(`“${key}”`);
    }
  });

  it('gives 4xx where something is missing, doubled or too long', async () => {
    expect((await app.ask('POST', 'pieces')).status).toBe(400);
    expect((await app.ask('PUT', 'pieces/none')).status).toBe(400);
    expect(
      (await raw('/api/pieces', { 'content-type': 'text/plain', 'content-length': '0' }, 'POST')).status,
    ).toBe(400);
    const twice = await fetch(`${app.url}/api/layers?name=a&name=b`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: new Uint8Array(8),
    });
    expect(twice.status).toBe(422);
    const long = '🏮'.repeat(300);
    const { status, body } = await app.upload(`${long}.gif`, new Uint8Array(9));
    expect([status, body.title.isWellFormed()]).toEqual([422, true]);
    const broken = await fetch(`${app.url}/api/pieces`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"footage": ',
    });
    expect(broken.status).toBe(400);
    expect((await app.ask('GET', 'footage/%2e%2e%2fx/frames/1e9')).status).toBe(400);
  });
});

describe('a server that is opened to a network', () => {
  let app: TestApp;
  beforeAll(async () => {
    app = await startApp({ host: '127.0.0.1' });
  });
  afterAll(() => app.stop());

  it('asks for the token, keeps it in a cookie that no page can read, and takes no other', async () => {
    expect((await fetch(`${app.url}/api/pieces`)).status).toBe(401);
    const page = await fetch(`${app.url}/`);
    expect([page.status, page.headers.get('content-type')]).toEqual([
      401,
      expect.stringContaining('text/html'),
    ]);
    expect((await fetch(`${app.url}/?token=${'0'.repeat(32)}`, { redirect: 'manual' })).status).toBe(401);
    const shown = await fetch(`${app.url}/?token=${app.token()}`, { redirect: 'manual' });
    expect([shown.status, shown.headers.get('location')]).toEqual([303, '/']);
    const cookie = shown.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/HttpOnly; SameSite=Strict/);
    const elsewhere = await fetch(`${app.url}//host.example/x?token=${app.token()}`, { redirect: 'manual' });
    expect([elsewhere.status, elsewhere.headers.get('location')]).toEqual([303, '/host.example/x']);
    const pair = cookie.split(';')[0];
    expect((await fetch(`${app.url}/api/pieces`, { headers: { cookie: pair } })).status).toBe(200);
    expect((await fetch(`${app.url}/api/pieces`, { headers: { cookie: `${pair}0` } })).status).toBe(401);
  });
});

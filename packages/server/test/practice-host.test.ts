import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { HostPageView, HostView, Mood, SendingItem, SendingView, TrialView } from '@muted-pond/core/api';
import { changeWeigh, type Limit } from '@muted-pond/core/recipe';
import sharp from 'sharp';
import { Upload } from 'tus-js-client';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { finishedTrial, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let piece: string;
let gif: TrialView;
let movie: TrialView;
let host: string;

beforeAll(async () => {
  app = await startApp({ practicePort: 0 });
  clips = clipFolder();
  const clip = clips.make(
    'moving.mkv',
    ...['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=20:d=1.5', '-pix_fmt', 'bgr0', '-c:v', 'ffv1'],
  );
  const made = await pieceOver(app, clip, 'moving.mkv');
  piece = made.piece.id;
  const { recipe } = made.piece;
  gif = await finishedTrial(app, piece, recipe);
  movie = await finishedTrial(app, piece, { ...recipe, weigh: changeWeigh(recipe.weigh, { kind: 'mp4' }) });
  host = (await view()).url ?? '';
});
afterAll(async () => {
  clips.remove();
  await app.stop();
});
afterEach(async () => {
  for (const { id, mood } of (await view()).places) if (mood !== 'fair') await setMood(id, 'fair');
});

const view = async () => (await app.ask<HostView>('GET', 'practice-host')).body;
const setMood = (place: string, mood: Mood) => app.ask('PUT', `practice-host/places/${place}/mood`, { mood });

/** Changes what a place takes until the test is over. */
async function withPlace(id: string, part: Partial<Limit>, test: () => Promise<void>): Promise<void> {
  const place = (await app.ask<Limit[]>('GET', 'limits')).body.find((one) => one.id === id) as Limit;
  const { id: _, ...values } = place;
  await app.ask('PUT', `limits/${id}`, { ...values, ...part });
  try {
    await test();
  } finally {
    await app.ask('PUT', `limits/${id}`, values);
  }
}

/** Sends and waits until nothing is on its way any more. */
async function sent(
  trial: TrialView,
  places: readonly string[],
  more: { title?: string; about?: string; fits?: boolean; replaces?: string } = {},
): Promise<readonly SendingItem[]> {
  const ended = app.event(
    (event) => event.type === 'sending' && event.sending.piece === piece && event.sending.state !== 'working',
  );
  const { status, body } = await app.ask<SendingView & Problem>('POST', `pieces/${piece}/sending`, {
    ...{ trial: trial.id, places, fits: false, title: 'Steam', about: 'Steam rises.' },
    ...more,
  });
  expect([status, body.title]).toEqual([201, undefined]);
  const { sending } = (await ended) as { sending: SendingView };
  expect(sending.problem).toBeNull();
  return sending.items;
}

async function accepted(trial: TrialView, more = {}): Promise<HostPageView> {
  const [item] = await sent(trial, ['blog-column'], more);
  expect([item.state, item.problem]).toEqual(['accepted', null]);
  return item.page as HostPageView;
}

const bytesOf = async (url: string) => new Uint8Array(await (await fetch(url)).arrayBuffer());
const fileOf = (trial: TrialView) => bytesOf(`${app.url}/api/trials/${trial.id}/file`);

describe('an accepted file', () => {
  it('has a page, an embed and an address of its own, and is the file that was sent', async () => {
    const page = await accepted(gif);
    expect(Buffer.compare(await bytesOf(page.direct), await fileOf(gif))).toBe(0);
    const response = await fetch(page.page);
    const html = await response.text();
    expect(response.headers.get('content-type')).toContain('text/html');
    expect(html).toContain(`<img src="${page.direct}" width="320" height="180" alt="Steam rises.">`);
    expect(html).not.toContain('<script');
    expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(response.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    const embed = await fetch(/src="([^"]+)"/.exec(page.embed)?.[1] ?? '');
    expect(embed.headers.get('content-security-policy')).toContain('frame-ancestors *');
    expect(embed.headers.get('x-frame-options')).toBeNull();
    expect(page.embed).toContain('width="320" height="180"');
  });

  it('plays a movie by itself, without a player bar', async () => {
    const { page, direct } = await accepted(movie);
    const html = await (await fetch(page)).text();
    expect(html).toMatch(/<video [^>]*autoplay muted loop playsinline/);
    expect(html).not.toContain('controls');
    expect((await fetch(direct)).headers.get('content-type')).toBe('video/mp4');
  });

  it('is told of by oEmbed, found from its page', async () => {
    const { page } = await accepted(gif);
    const html = await (await fetch(page)).text();
    const found = /type="application\/json\+oembed" href="([^"]+)"/.exec(html)?.[1] ?? '';
    const told = (await (await fetch(found.replaceAll('&amp;', '&'))).json()) as Record<string, unknown>;
    expect(told).toMatchObject({ type: 'rich', version: '1.0', width: 320, height: 180, title: 'Steam' });
    expect(told.html).toContain('<iframe');
    const narrow = (await (await fetch(`${found.replaceAll('&amp;', '&')}&maxwidth=160`)).json()) as Record<
      string,
      unknown
    >;
    expect([narrow.width, narrow.height]).toEqual([160, 90]);
    expect((await fetch(`${host}/oembed?url=http://elsewhere/p/x`)).status).toBe(404);
    expect((await fetch(`${host}/oembed?url=${page}&format=xml`)).status).toBe(501);
  });

  it('is given as a real host gives files: head, ranges, and nothing twice', async () => {
    const { direct } = await accepted(gif);
    const whole = await fileOf(gif);
    const head = await fetch(direct, { method: 'HEAD' });
    expect(head.headers.get('content-length')).toBe(String(whole.length));
    expect(head.headers.get('accept-ranges')).toBe('bytes');
    expect(head.headers.get('cache-control')).toContain('max-age=60');
    const part = await fetch(direct, { headers: { range: 'bytes=10-29' } });
    expect(part.status).toBe(206);
    expect(part.headers.get('content-range')).toBe(`bytes 10-29/${whole.length}`);
    expect(Buffer.compare(new Uint8Array(await part.arrayBuffer()), whole.subarray(10, 30))).toBe(0);
    const again = await fetch(direct, {
      headers: { 'if-none-match': head.headers.get('etag') ?? '', 'cache-control': 'max-age=0' },
    });
    expect(again.status).toBe(304);
    expect((await fetch(direct, { headers: { range: 'bytes=99999999-' } })).status).toBe(416);
  });

  it('can be replaced, renamed, taken down and put back; the link stays', async () => {
    const page = await accepted(gif);
    const next = await accepted(movie, { replaces: page.id });
    expect([next.id, next.page]).toEqual([page.id, page.page]);
    expect((await fetch(page.direct)).headers.get('content-type')).toBe('video/mp4');
    const change = (part: object) => app.ask<HostPageView>('PATCH', `practice-host/pages/${page.id}`, part);
    expect((await change({ title: 'Evening steam' })).body.title).toBe('Evening steam');
    expect((await change({ isDown: true })).body.isDown).toBe(true);
    for (const url of [page.page, page.direct]) expect((await fetch(url)).status).toBe(404);
    expect(await (await fetch(page.page)).text()).toContain('may have been taken down');
    await change({ isDown: false });
    expect(await (await fetch(page.page)).text()).toContain('<h1>Evening steam</h1>');
    expect((await view()).pages.some(({ id }) => id === page.id)).toBe(true);
    const [elsewhere] = await sent(gif, ['shop-banner'], { replaces: page.id });
    expect(elsewhere.state).toBe('refused');
  });
});

describe('a refusal', () => {
  it('says every rule that was broken, and by how much', async () => {
    await withPlace('shop-banner', { height: 100, seconds: 1, frameRate: 5 }, async () => {
      const [item] = await sent(gif, ['shop-banner']);
      expect(item.state).toBe('refused');
      expect(item.over.map(({ what }) => what)).toEqual(['height', 'seconds', 'frameRate']);
      expect(item.problem).toContain('it is 180 px high, 80 more than it may');
      expect(item.problem).toContain('it lasts 1.50 s, 0.50 s more than it may');
    });
  });

  it('comes before a file is sent that is plainly too heavy', async () => {
    await withPlace('blog-column', { bytes: 5000 }, async () => {
      const [item] = await sent(gif, ['blog-column']);
      expect(item).toMatchObject({ state: 'refused', done: 0, over: [{ what: 'bytes', most: 5000 }] });
    });
  });

  it('holds for a file of unknown length while it comes', async () => {
    const small = (
      (await app.ask<Limit[]>('GET', 'limits')).body.find(({ id }) => id === 'advert-panel') as Limit
    ).bytes;
    const metadata = `place ${Buffer.from('advert-panel').toString('base64')}`;
    const tus = { 'tus-resumable': '1.0.0' };
    const begun = await fetch(`${host}/uploads`, {
      method: 'POST',
      headers: { ...tus, 'upload-defer-length': '1', 'upload-metadata': metadata },
    });
    expect(begun.status).toBe(201);
    const at = new URL(begun.headers.get('location') ?? '', host);
    const part = (offset: number, bytes: number) =>
      fetch(at, {
        method: 'PATCH',
        headers: {
          ...tus,
          'upload-offset': String(offset),
          'content-type': 'application/offset+octet-stream',
        },
        body: new Uint8Array(bytes),
      });
    expect((await part(0, small - 10)).status).toBe(204);
    const over = await part(small - 10, 11);
    expect([over.status, ((await over.json()) as { title: string }).title]).toEqual([
      413,
      expect.stringContaining('larger than the place takes'),
    ]);
  });

  it('looks at what a file is, not at what it is called', async () => {
    await withPlace('blog-column', { kinds: ['gif'] }, async () => {
      const [item] = await sent(movie, ['blog-column']);
      expect(item.over).toEqual([{ what: 'kind', is: 1, most: 0 }]);
    });
  });

  it('of several places, each has its own fit: three files, each under its limit', async () => {
    const places = ['chat-square', 'advert-panel', 'message-sticker'];
    await withPlace('chat-square', { bytes: 60_000, width: 200, height: 200 }, async () => {
      const items = await sent(gif, places, { fits: true });
      expect(items.map(({ state }) => state)).toEqual(places.map(() => 'accepted'));
      const { places: all } = await view();
      for (const [i, { page }] of items.entries()) {
        const place = all.find(({ id }) => id === places[i]) as Limit;
        const bytes = await bytesOf(page?.direct ?? '');
        expect(bytes.length).toBeLessThanOrEqual(place.bytes);
        const { width = 0, pageHeight = 0 } = await sharp(bytes, { animated: true }).metadata();
        expect(width).toBeLessThanOrEqual(place.width);
        expect(pageHeight).toBeLessThanOrEqual(place.height ?? Number.POSITIVE_INFINITY);
      }
    });
  });
});

describe('a place in a bad mood', () => {
  it.each([
    ['refuses', 'takes nothing at all'],
    ['full', 'is full'],
  ] as const)('%s, and says so', async (mood, words) => {
    await setMood('blog-column', mood);
    const [item] = await sent(gif, ['blog-column']);
    expect([item.state, item.problem]).toEqual(['refused', expect.stringContaining(words)]);
  });

  it('breaks off at every tenth, and all of the file arrives', async () => {
    await setMood('blog-column', 'breaks-off');
    const page = await accepted(gif);
    expect(Buffer.compare(await bytesOf(page.direct), await fileOf(gif))).toBe(0);
  });

  it('that is slow is waited for', async () => {
    await setMood('blog-column', 'slow');
    const shares: number[] = [];
    const told = app.event((event) => {
      if (event.type !== 'sending') return false;
      shares.push(event.sending.items[0]?.done ?? 0);
      return event.sending.state !== 'working';
    });
    await accepted(gif);
    await told;
    expect(new Set(shares).size).toBeGreaterThan(3);
  });

  it('makes the picture smaller, and tells', async () => {
    await setMood('blog-column', 're-encodes');
    for (const trial of [gif, movie]) {
      const page = await accepted(trial);
      expect(page.width).toBe(192);
      expect(page.note).toContain('192 px wide instead of 320');
    }
  });
});

describe('sending', () => {
  it('that is stopped can be gone on with where it was', async () => {
    await setMood('blog-column', 'slow');
    const begun = app.event(
      (event) => event.type === 'sending' && (event.sending.items[0]?.done ?? 0) > 0.15,
    );
    await app.ask('POST', `pieces/${piece}/sending`, {
      ...{ trial: movie.id, places: ['blog-column'], fits: false, title: 'A', about: '' },
    });
    await begun;
    const { body } = await app.ask<SendingView>('DELETE', `pieces/${piece}/sending`);
    expect(body.items[0].state).toBe('stopped');
    const first: number[] = [];
    const told = app.event((event) => {
      if (event.type === 'sending' && event.sending.items[0]?.state === 'sending') {
        first.push(event.sending.items[0].done);
      }
      return event.type === 'sending' && event.sending.state !== 'working';
    });
    const page = await accepted(movie, { title: 'A' });
    await told;
    expect(first.filter((share) => share > 0)[0]).toBeGreaterThan(0.15);
    expect(Buffer.compare(await bytesOf(page.direct), await fileOf(movie))).toBe(0);
  });

  it('to a place that is not there is refused before anything is begun', async () => {
    const { status, body } = await app.ask<Problem>('POST', `pieces/${piece}/sending`, {
      ...{ trial: gif.id, places: ['nowhere'], fits: false, title: '', about: '' },
    });
    expect([status, body.code]).toEqual([404, 'not_found']);
  });
});

describe('files side by side', () => {
  const beside = (trials: readonly TrialView[], place: string) =>
    app.ask<{ url: string } & Problem>('POST', 'practice-host/beside', {
      ...{
        place,
        title: 'Two',
        trials: trials.map(({ id, letter }) => ({ trial: id, title: letter, about: 'a | b' })),
      },
    });

  it('are sent, and shown on one page that runs nothing but its own script', async () => {
    const { status, body } = await beside([gif, movie], 'blog-column');
    expect([status, body.title]).toEqual([201, undefined]);
    const response = await fetch(body.url);
    const html = await response.text();
    expect(html.match(/<figure>/g)).toHaveLength(2);
    expect(html).toContain('<span>a</span><span>b</span>');
    expect(html).not.toMatch(/<script>|<style/);
    expect(response.headers.get('content-security-policy')).toContain("script-src 'self'");
    for (const [file, type] of [
      ['together.js', 'text/javascript'],
      ['beside.css', 'text/css'],
    ]) {
      expect((await fetch(`${host}/${file}`)).headers.get('content-type')).toContain(type);
    }
    expect((await fetch(`${host}/s/nothing.here`)).status).toBe(404);
  });

  it('of which a place takes one only are refused with what it said', async () => {
    const { status, body } = await beside([gif, movie], 'advert-panel');
    expect(status).toBe(422);
    expect(body.title).toContain('of a kind that is not taken here');
  });
});

describe('what strangers send', () => {
  /** Straight to the host, as any program may. */
  function upload(
    bytes: Buffer,
    metadata: Record<string, string>,
  ): Promise<{ status: number; body: string }> {
    return new Promise((resolve) => {
      const sending = new Upload(bytes, {
        endpoint: `${host}/uploads`,
        metadata,
        retryDelays: null,
        storeFingerprintForResuming: false,
        onSuccess: ({ lastResponse }) =>
          resolve({ status: lastResponse.getStatus(), body: lastResponse.getBody() }),
        onError: (error) => {
          const response = 'originalResponse' in error ? error.originalResponse : null;
          resolve({ status: response?.getStatus() ?? 0, body: response?.getBody() ?? '' });
        },
      });
      sending.start();
    });
  }

  it.each([
    ['markup', '<img src=x onerror=alert(1)><script>alert(2)</script>'],
    ['an attribute', '" onload="alert(1)'],
    ['a path', '../../../etc/passwd'],
    ['signs that turn the direction', 'safe\u202efig.exe\u2066'],
    ['five thousand letters', 'x'.repeat(5000)],
    ['lines', 'one\ntwo\r\nthree\u2028four'],
  ])('a title with %s stays text', async (_, title) => {
    const { status, body } = await upload(Buffer.from(await fileOf(gif)), {
      place: 'blog-column',
      title,
      about: title,
    });
    expect(status).toBe(200);
    const { id } = JSON.parse(body);
    const html = await (await fetch(`${host}/p/${id}`)).text();
    expect(html).not.toContain('<script');
    expect(html).not.toMatch(/<img(?![^>]* alt="[^"]*">)/);
    expect(html).not.toMatch(/[\u202a-\u202e\u2066-\u2069\u2028]/);
    const heading = /<h1>([^<]*)<\/h1>/.exec(html)?.[1] ?? '';
    expect(heading.length).toBeLessThan(700);
    expect(heading).not.toBe('');
    for (const url of [`${host}/`, `${host}/e/${id}`]) {
      expect(await (await fetch(url)).text()).not.toContain('<script');
    }
  });

  it.each([
    ['a drawing with a script', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>')],
    ['a page', Buffer.from('<!doctype html><h1>Hello</h1>')],
    ['nothing that is known', Buffer.from('Dear tea house, '.repeat(200))],
  ])('%s is refused, and nothing of it stays', async (_, bytes) => {
    const before = keptHere();
    const { status, body } = await upload(bytes, { place: 'blog-column', title: 'A' });
    expect(status).toBe(415);
    expect(JSON.parse(body).title).toMatch(/no kind of file|neither|drawing|cannot/i);
    expect(keptHere()).toEqual(before);
  });

  it('a place that is not there takes nothing', async () => {
    expect((await upload(Buffer.from('GIF89a'), { place: '../blog-column' })).status).toBe(404);
  });

  const keptHere = () =>
    ['files', 'uploads'].flatMap((folder) => readdirSync(join(app.dataDir, 'practice-host', folder)));

  it('nothing of the editor is reachable at the host, nor by another name', async () => {
    for (const path of [
      '/api/pieces',
      '/api/limits',
      '/api/docs',
      '/api/practice-host',
      '/f/..%2f..%2ftoken',
    ]) {
      expect((await fetch(`${host}${path}`)).status, path).toBe(404);
    }
    const { status } = await askAs('evil.example', `${host}/`);
    expect(status).toBe(421);
  });
});

/** Asks with a Host header of one's own, which `fetch` does not let be set. */
async function askAs(name: string, url: string): Promise<{ status: number }> {
  const { request } = await import('node:http');
  return new Promise((resolve, reject) => {
    request(url, { headers: { host: name } }, (response) => {
      response.resume();
      resolve({ status: response.statusCode ?? 0 });
    })
      .on('error', reject)
      .end();
  });
}

describe('the host itself', () => {
  it('takes another port where its own is taken, and tells', async () => {
    const other: Server = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => other.once('listening', resolve));
    const { port } = other.address() as { port: number };
    const beside = await startApp({ practicePort: port });
    try {
      const { body } = await beside.ask<HostView>('GET', 'practice-host');
      expect(body.url).not.toBe(`http://localhost:${port}`);
      expect(body.problem).toContain(`Port ${port} is taken`);
      expect((await fetch(`${body.url}/`)).status).toBe(200);
    } finally {
      await beside.stop();
      other.close();
    }
  });

  it('that cannot be started is told of, and the editor works on', async () => {
    const dataDir = mkdtempSync(join(tmpdir(), 'muted-pond-no-host-'));
    mkdirSync(dataDir, { recursive: true });
    // A file stands where its folder should be.
    writeFileSync(join(dataDir, 'practice-host'), 'in the way');
    const beside = await startApp({ practicePort: 0, dataDir });
    try {
      const { body } = await beside.ask<HostView>('GET', 'practice-host');
      expect(body).toMatchObject({ url: null, places: [], pages: [] });
      expect(body.problem).toContain('cannot be written to');
      expect((await beside.ask('GET', 'limits')).status).toBe(200);
    } finally {
      await beside.stop();
      rmSync(dataDir, { recursive: true, force: true });
    }
  });

  it('keeps its pages over a stop, and lets go of files that no page shows', async () => {
    const first = await startApp({ practicePort: 0 });
    const files = join(first.dataDir, 'practice-host', 'files');
    writeFileSync(join(files, 'left-behind'), 'by a stop');
    await first.stop(true);
    const second = await startApp({ practicePort: 0, dataDir: first.dataDir });
    try {
      expect(readdirSync(files)).toEqual([]);
    } finally {
      await second.stop();
    }
  });
});

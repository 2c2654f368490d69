import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import {
  bestSnippet,
  distinctNames,
  escapeHtml,
  fileNameOf,
  fileUrl,
  type PageFile,
  pageOf,
  SNIPPETS,
  safeFileName,
  safeName,
  sideBySidePage,
  snippetOf,
  takenFrom,
} from './index.js';

const fileOf = (kind: PageFile['kind'], bytes = 1000, url = `loop.${kind}`): PageFile => ({
  ...{ kind, url, width: 480, height: 270, bytes },
  mime: kind === 'mp4' || kind === 'webm' ? `video/${kind}` : `image/${kind}`,
});
const values = {
  ...{ piece: 'Kettle', width: '480', height: '270', rate: '12.5', kind: 'webp', date: '2026-11-27' },
  trial: 'B',
};

describe('names of files', () => {
  it('are filled in after their pattern; what is no field stays', () => {
    expect(fileNameOf('{piece} {width}x{height} {rate} {kind} {date} {trial}', values, 'webp')).toBe(
      'Kettle 480x270 12.5 webp 2026-11-27 B.webp',
    );
    expect(fileNameOf('{piece} {colour} {constructor}', values, 'gif')).toBe(
      'Kettle {colour} {constructor}.gif',
    );
  });

  it.each([
    ['a/b\\c:d*e?"f<g>|h', 'a b c d e f g h'],
    [' ..  ', 'loop'],
    ['../../etc/passwd', 'etc passwd'],
    ['CON', 'loop CON'],
    ['nul.tea', 'loop nul.tea'],
    ['safe\u202efig.exe', 'safefig.exe'],
    ['one\ntwo', 'one two'],
    ['cafe\u0301', 'café'],
    ['ends with a dot.', 'ends with a dot'],
  ])('“%s” is made fit for every system', (text, safe) => {
    expect(safeName(text)).toBe(safe);
  });

  it('keep their ending, however long they are', () => {
    expect(safeFileName(`${'x'.repeat(300)}.webp`)).toBe(`${'x'.repeat(176)}.webp`);
    expect(safeFileName('../a/b.html')).toBe('a b.html');
    expect(safeFileName('.hidden')).toBe('hidden');
  });

  it('are cut by bytes, between whole characters', () => {
    const name = safeFileName(`${'水'.repeat(100)}.webp`);
    expect(name).toBe(`${'水'.repeat(58)}.webp`);
    expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(200);
    expect(safeName('👩‍🍳'.repeat(60)).isWellFormed()).toBe(true);
  });

  it('stay safe whatever is typed (seeded)', () => {
    const signs = [...'ab .-_/\\:*?"<>|{}\u0000\u001f\u202e\u200fé漢', '👩‍🍳', '\ud83d'];
    for (const seed of [1, 2, 3, 5, 8]) {
      const random = seeded(seed);
      for (let round = 0; round < 200; round++) {
        const length = Math.floor(random() * 260);
        const text = Array.from({ length }, () => signs[Math.floor(random() * signs.length)]).join('');
        const name = safeName(text);
        // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must not be there
        expect(name, JSON.stringify(text)).not.toMatch(/[\u0000-\u001f<>:"/\\|?*\u202e]|^[. ]|[. ]$/);
        expect(name.length).toBeGreaterThan(0);
        expect(new TextEncoder().encode(`${name} 99.webp`).length, JSON.stringify(text)).toBeLessThanOrEqual(
          200,
        );
        expect(name.isWellFormed()).toBe(true);
      }
    }
  });

  it('never meet, also where large letters count as small ones', () => {
    const names = distinctNames(['Loop.png', 'loop.png', 'loop.gif', 'LOOP.PNG', 'loop 2.png']);
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
    expect(names[0]).toBe('Loop.png');
    expect(names.map((name) => name.slice(-4).toLowerCase())).toEqual([
      '.png',
      '.png',
      '.gif',
      '.png',
      '.png',
    ]);
  });
});

describe('snippets', () => {
  const options = { still: 'still.png', about: 'Steam rises.', plays: 0 };

  it('offer the lightest first, and a still where no motion is wanted', () => {
    const files = [fileOf('gif', 900), fileOf('avif', 200), fileOf('webp', 400)];
    const lines = snippetOf('picture', { ...options, files }).split('\n');
    expect(lines[1]).toBe('  <source media="(prefers-reduced-motion: reduce)" srcset="still.png">');
    expect(lines[2]).toContain('type="image/avif"');
    expect(lines[3]).toContain('type="image/webp"');
    expect(lines[4]).toContain('<img src="loop.gif" width="480" height="270" alt="Steam rises."');
  });

  it('offer nothing that is heavier than what every browser knows', () => {
    const files = [fileOf('gif', 300), fileOf('apng', 900), fileOf('webp', 200), fileOf('avif', 400)];
    const text = snippetOf('picture', { ...options, files });
    expect(text.match(/type="[^"]+"/g)).toEqual(['type="image/webp"']);
    expect(text).toContain('<img src="loop.gif"');
  });

  it('are taken from by a browser that knows all kinds: an image as it stands, else the lightest', () => {
    const files = [fileOf('gif', 300), fileOf('avif', 90), fileOf('webp', 120), fileOf('mp4', 40)];
    expect(takenFrom('image', files)?.kind).toBe('gif');
    expect(takenFrom('picture', files)?.kind).toBe('avif');
    expect(takenFrom('video', [...files, fileOf('webm', 60)])?.kind).toBe('mp4');
    expect(takenFrom('video', files.slice(0, 3))).toBeNull();
  });

  it('play a movie silently and by itself; going round only where it is to', () => {
    const files = [fileOf('mp4', 900), fileOf('webm', 700)];
    const text = snippetOf('video', { ...options, files });
    expect(text).toMatch(/<video width="480" height="270" autoplay muted loop playsinline/);
    expect(text).not.toContain('controls');
    expect(text.indexOf('loop.webm')).toBeLessThan(text.indexOf('loop.mp4'));
    expect(text).toContain('poster="still.png"');
    expect(snippetOf('video', { ...options, files, plays: 1 })).not.toContain(' loop');
  });

  it('are chosen by what there is', () => {
    expect(bestSnippet([fileOf('gif'), fileOf('webp')])).toBe('picture');
    expect(bestSnippet([fileOf('gif')])).toBe('image');
    expect(bestSnippet([fileOf('mp4')])).toBe('video');
    expect(bestSnippet([fileOf('frames')])).toBeNull();
    expect(() => snippetOf('image', { ...options, files: [fileOf('mp4')] })).toThrow('Image');
  });

  it('cannot be broken out of by a name or a text', () => {
    const evil = `"><script>alert(1)</script><img src=x onerror='alert(2)' & "`;
    for (const name of SNIPPETS) {
      const files = [fileOf('gif', 1, fileUrl(evil)), fileOf('webp', 1, evil), fileOf('mp4', 1, evil)];
      const text = snippetOf(name, { files, still: evil, about: evil, plays: 0 });
      expect(text).not.toContain('<script');
      expect(text.match(/onerror='/)).toBeNull();
    }
    expect(pageOf({ title: evil, body: '' })).not.toContain('<script>alert');
    expect(escapeHtml(`<&>"'`)).toBe('&lt;&amp;&gt;&quot;&#39;');
  });
});

describe('files side by side', () => {
  const compared = (title: string) => ({
    ...{ title, lines: ['GIF, 90 KB', '<b>'], url: 'data:image/gif;base64,AA==', isMovie: false },
    ...{ width: 20, height: 10 },
  });

  it('are two to four, each with what it weighs', () => {
    const page = sideBySidePage('Two', [compared('A'), { ...compared('B'), isMovie: true }]);
    expect(page.match(/<figure>/g)).toHaveLength(2);
    expect(page).toContain('<video src="data:image/gif');
    expect(page).toContain('&lt;b&gt;');
    expect(() => sideBySidePage('One', [compared('A')])).toThrow('Two to 4');
    expect(() =>
      sideBySidePage(
        'Five',
        Array.from({ length: 5 }, () => compared('A')),
      ),
    ).toThrow('these are 5');
  });
});

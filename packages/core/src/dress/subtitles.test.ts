import { describe, expect, it } from 'vitest';
import {
  CAPTION_STARTS,
  type Caption,
  decodeText,
  newCaption,
  placeSubtitles,
  readSubtitles,
  writeSubtitles,
} from './index.js';

const SUBRIP = `1
00:00:01,000 --> 00:00:02,500
First <i>kettle</i>
of the day

2
0:00:04,25 --> 00:00:06,000
{\\an8}Steam

`;

describe('a subtitle file', () => {
  it('of SubRip is read, without its styles, which is told', () => {
    expect(readSubtitles(SUBRIP)).toEqual({
      entries: [
        { fromMs: 1000, toMs: 2500, text: 'First kettle\nof the day' },
        { fromMs: 4250, toMs: 6000, text: 'Steam' },
      ],
      notes: ['Styles were left out: all entries look like the first caption.'],
    });
  });

  it('of WebVTT is read: heads, notes, styles, places and signs', () => {
    const file = [
      ...['WEBVTT Kettle', 'Kind: captions', '', 'NOTE made up', '', 'STYLE', '::cue { color: red }', ''],
      ...['intro', '00:01.000 --> 00:02.000 line:0 align:start', 'Tea &amp; steam &lt;3', ''],
      ...['01:00:00.000 --> 01:00:01.500', '<v Anna>Later</v>', ''],
    ].join('\r\n');
    expect(readSubtitles(file)).toEqual({
      entries: [
        { fromMs: 1000, toMs: 2000, text: 'Tea & steam <3' },
        { fromMs: 3_600_000, toMs: 3_601_500, text: 'Later' },
      ],
      notes: [
        'Styles were left out: all entries look like the first caption.',
        'Places on the picture were left out.',
      ],
    });
  });

  it('with broken entries is read without them, each named by its line', () => {
    const file = `1\n00:00:01,000 --> 00:00:02,000\nGood\n\nno times here\n\n3\n00:00:05,000 --> 00:00:04,000\nBackwards\n`;
    expect(readSubtitles(file)).toEqual({
      entries: [{ fromMs: 1000, toMs: 2000, text: 'Good' }],
      notes: [
        'The entry in line 5 has no times; it was left out.',
        'The times in line 8 cannot be read; it was left out.',
      ],
    });
  });

  it('with a great many broken entries tells of some and counts the rest', () => {
    const { notes } = readSubtitles(`1\n00:00:01,000 --> 00:00:02,000\nGood\n\n${'nothing\n\n'.repeat(400)}`);
    expect(notes).toHaveLength(6);
    expect(notes[5]).toBe('395 more broken entries were left out.');
  });

  it.each([
    ['nothing', ''],
    ['prose', 'Once upon a time\nthere was tea.\n'],
    ['bytes', '\u0000\u0001\u0002'],
  ])('of %s is refused, and it is told what can be read', (_, file) => {
    expect(() => readSubtitles(file)).toThrow('Bring SubRip (.srt) or WebVTT (.vtt).');
  });

  it('in another character set is read by its mark, or guessed and told', () => {
    const utf16 = new Uint8Array([0xff, 0xfe, 0x54, 0x00, 0xe9, 0x00]);
    expect(decodeText(utf16)).toEqual({ text: 'Té', note: null });
    expect(decodeText(new TextEncoder().encode('\ufeffTé')).text).toBe('Té');
    const western = decodeText(new Uint8Array([0x54, 0xe9]));
    expect(western.text).toBe('Té');
    expect(western.note).toContain('not in UTF-8');
  });
});

describe('entries on a loop', () => {
  const times = { starts: Array.from({ length: 100 }, (_, i) => i / 10), duration: 10 };
  /** Frames 40 to 59, each for a tenth of a second. */
  const reel = Array.from({ length: 20 }, (_, i) => ({ source: 40 + i, delayCs: 10 }));
  const entry = (fromMs: number, toMs: number) => ({ fromMs, toMs, text: 'Tea' });

  it('by the reel’s own seconds lie there, cut off at its end', () => {
    const { captions, notes } = placeSubtitles(
      [entry(500, 1000), entry(1500, 9000), entry(3000, 4000)],
      'reel',
      { reel, times },
      null,
    );
    expect(captions.map(({ time }) => time)).toEqual([
      { fromCs: 50, toCs: 100 },
      { fromCs: 150, toCs: 200 },
    ]);
    expect(notes).toEqual(['1 of 3 entries lie outside the loop; they were left out.']);
  });

  it('by the footage lie where their frames are seen, also backwards', () => {
    const ground = { reel, times };
    expect(placeSubtitles([entry(4500, 5000)], 'footage', ground, null).captions[0].time).toEqual({
      ...{ fromCs: 50, toCs: 100 },
    });
    const back = { reel: [...reel].reverse(), times };
    expect(placeSubtitles([entry(4500, 5000)], 'footage', back, null).captions[0].time).toEqual({
      ...{ fromCs: 100, toCs: 150 },
    });
    expect(placeSubtitles([entry(0, 1000)], 'footage', ground, null).captions).toEqual([]);
  });

  it('look like the caption they are laid beside, and no more are laid than there is room for', () => {
    const like: Caption = { ...newCaption(CAPTION_STARTS.word, 'x'), x: 0.2 };
    const { captions, notes } = placeSubtitles(
      Array.from({ length: 5 }, (_, i) => entry(i * 100, i * 100 + 50)),
      ...(['reel', { reel, times }, like, 3] as const),
    );
    expect(captions).toHaveLength(3);
    expect(captions[0]).toMatchObject({ text: 'Tea', style: like.style, x: 0.2 });
    expect(notes).toEqual(['A piece has at most 200 captions; 2 were left out.']);
  });

  it('are written and read back as they were', () => {
    const captions = [
      {
        ...newCaption(CAPTION_STARTS.below, 'b'),
        text: 'Later & more\n\nstill',
        time: { fromCs: 400, toCs: 652 },
      },
      { ...newCaption(CAPTION_STARTS.below, 'a'), text: 'Always' },
      { ...newCaption(CAPTION_STARTS.below, 'c'), text: 'Hidden', shown: false },
    ];
    for (const form of ['srt', 'vtt'] as const) {
      const { entries, notes } = readSubtitles(writeSubtitles(captions, form, 1000));
      expect(notes).toEqual([]);
      expect(entries.map(({ fromMs, toMs, text }) => [fromMs, toMs, text.replace('\u00a0', '')])).toEqual([
        [0, 10_000, 'Always'],
        [4000, 6520, 'Later & more\n\nstill'],
      ]);
    }
  });
});

import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { createMask } from '../still/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import {
  CAPTION_STARTS,
  captionSvg,
  chooseFonts,
  cleanText,
  couldBeUndone,
  type Emblem,
  edgeFrame,
  emblemRect,
  hasCharacter,
  hideVeiled,
  layOver,
  newCaption,
  placeEmblem,
  runsOf,
  runsRightToLeft,
  seenAt,
  thinKeys,
  type Veil,
  type VeilKey,
  veilAt,
  withFollowed,
} from './index.js';

const pixel = ({ rgba, width }: PixelFrame, x: number, y: number) => [
  ...rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

function plain(width: number, height: number, colour: readonly number[]): PixelFrame {
  const frame = createFrame(width, height);
  for (let i = 0; i < frame.rgba.length; i += 4) frame.rgba.set(colour, i);
  return frame;
}

describe('when something is seen', () => {
  it('is the whole loop, also with a fade: its end is its beginning', () => {
    for (const at of [0, 50, 9999]) expect(seenAt(null, 100, at)).toBe(1);
  });

  it('is at once from its first moment until its last', () => {
    const time = { fromCs: 100, toCs: 200 };
    expect([99, 100, 199, 200].map((at) => seenAt(time, 0, at))).toEqual([0, 1, 1, 0]);
  });

  it('grows and shrinks evenly over its fade, and is never nothing inside', () => {
    const time = { fromCs: 0, toCs: 100 };
    const seen = Array.from({ length: 100 }, (_, at) => seenAt(time, 20, at));
    expect(seen[50]).toBe(1);
    expect(Math.min(...seen)).toBeGreaterThan(0);
    for (let at = 1; at < 20; at++) expect(seen[at]).toBeGreaterThan(seen[at - 1]);
    for (let at = 82; at < 100; at++) expect(seen[at]).toBeLessThan(seen[at - 1]);
    // A fade longer than there is room for meets itself in the middle.
    expect(Math.max(...Array.from({ length: 100 }, (_, at) => seenAt(time, 900, at)))).toBeGreaterThan(0.95);
  });
});

describe('laying over', () => {
  it('is the sum of what is seen of both (8 seeds)', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const random = seeded(seed);
      const under = noiseFrame(9, 7, random);
      const over = noiseFrame(4, 5, random);
      for (const frame of [under, over]) {
        for (let i = 3; i < frame.rgba.length; i += 4) frame.rgba[i] = wholeFrom(random, 0, 255);
      }
      const before = under.rgba.slice();
      const [x, y, opacity] = [wholeFrom(random, -3, 8), wholeFrom(random, -3, 6), random()];
      layOver(under, { picture: over, x, y }, opacity);
      for (let row = 0; row < 7; row++) {
        for (let column = 0; column < 9; column++) {
          const i = (row * 9 + column) * 4;
          const isUnder = column >= x && column < x + 4 && row >= y && row < y + 5;
          const j = ((row - y) * 4 + column - x) * 4;
          const top = isUnder ? (over.rgba[j + 3] / 255) * opacity : 0;
          const below = (before[i + 3] / 255) * (1 - top);
          expect(Math.abs(under.rgba[i + 3] - 255 * (top + below)), `seed ${seed}`).toBeLessThanOrEqual(0.51);
          if (top + below === 0) continue;
          const red = ((isUnder ? over.rgba[j] * top : 0) + before[i] * below) / (top + below);
          expect(Math.abs(under.rgba[i] - red), `seed ${seed}`).toBeLessThanOrEqual(0.51);
        }
      }
    }
  });
});

describe('a border', () => {
  it('covers the outermost pixels of all four sides, and no other', () => {
    const frame = plain(30, 20, [10, 20, 30, 255]);
    edgeFrame(frame, { width: 3, colour: '#ff8000' }, null);
    for (let y = 0; y < 20; y++) {
      for (let x = 0; x < 30; x++) {
        const isEdge = x < 3 || y < 3 || x >= 27 || y >= 17;
        expect(pixel(frame, x, y), `${x}, ${y}`).toEqual(isEdge ? [255, 128, 0, 255] : [10, 20, 30, 255]);
      }
    }
  });

  it('is seen on clear ground too', () => {
    const frame = plain(10, 10, [0, 0, 0, 0]);
    edgeFrame(frame, { width: 1, colour: '#00ff00' }, null);
    expect(pixel(frame, 0, 5)).toEqual([0, 255, 0, 255]);
    expect(pixel(frame, 5, 5)).toEqual([0, 0, 0, 0]);
  });

  it('follows round corners; beside them it is clear, or filled', () => {
    const clear = plain(60, 40, [10, 20, 30, 255]);
    edgeFrame(clear, { width: 2, colour: '#ffffff' }, { radius: 12, fill: 'transparent' });
    expect(pixel(clear, 0, 0)[3]).toBe(0);
    expect(pixel(clear, 59, 39)[3]).toBe(0);
    expect(pixel(clear, 0, 20)).toEqual([255, 255, 255, 255]);
    expect(pixel(clear, 30, 20)).toEqual([10, 20, 30, 255]);
    // On the arc, 12 px from its middle.
    const onArc = Math.round(12 - 11 * Math.SQRT1_2 - 0.5);
    expect(pixel(clear, onArc, onArc)[0]).toBeGreaterThan(200);
    const filled = plain(60, 40, [10, 20, 30, 255]);
    edgeFrame(filled, null, { radius: 12, fill: '#336699' });
    expect(pixel(filled, 0, 0)).toEqual([0x33, 0x66, 0x99, 255]);
    expect(pixel(filled, 12, 0)).toEqual([10, 20, 30, 255]);
  });

  it('covers about as much as the geometry says', () => {
    const frame = plain(100, 100, [0, 0, 0, 255]);
    edgeFrame(frame, null, { radius: 30, fill: 'transparent' });
    let seen = 0;
    for (let i = 3; i < frame.rgba.length; i += 4) seen += frame.rgba[i] / 255;
    expect(seen).toBeCloseTo(100 * 100 - (4 - Math.PI) * 30 * 30, -1);
  });
});

describe('an emblem', () => {
  const emblem: Emblem = {
    ...{ id: 'a', name: 'a', hash: 'a'.repeat(64), anchor: 'bottom-right', margin: 5, width: 20 },
    ...{ turn: 0, opacity: 100, time: null, shown: true },
  };
  const size = { width: 40, height: 20 };

  it('stays at its anchor with its margin, whatever the frame is', () => {
    for (const frame of [
      { width: 480, height: 270 },
      { width: 300, height: 300 },
    ]) {
      const margin = 0.05 * Math.min(frame.width, frame.height);
      const rect = emblemRect(emblem, size, frame);
      expect(rect.x + rect.width).toBeCloseTo(frame.width - margin, 6);
      expect(rect.y + rect.height).toBeCloseTo(frame.height - margin, 6);
      expect(rect.width / rect.height).toBeCloseTo(2, 6);
      const top = emblemRect({ ...emblem, anchor: 'top' }, size, frame);
      expect(top.x + top.width / 2).toBeCloseTo(frame.width / 2, 6);
      expect(top.y).toBeCloseTo(margin, 6);
    }
  });

  it('turned by a quarter stands upright around the same middle', () => {
    const picture = plain(40, 20, [200, 10, 10, 255]);
    for (let y = 0; y < 20; y++)
      for (let x = 0; x < 20; x++) picture.rgba.set([10, 10, 200, 255], (y * 40 + x) * 4);
    const frame = { width: 200, height: 200 };
    const lying = placeEmblem(emblem, picture, frame);
    const upright = placeEmblem({ ...emblem, turn: 90 }, picture, frame);
    expect(Math.abs(upright.picture.width - lying.picture.height)).toBeLessThanOrEqual(1);
    expect(
      Math.abs(upright.x + upright.picture.width / 2 - lying.x - lying.picture.width / 2),
    ).toBeLessThanOrEqual(1);
    // Clockwise: what was on the left is on top.
    const { width, height } = upright.picture;
    expect(pixel(upright.picture, width >> 1, 4)[2]).toBeGreaterThan(150);
    expect(pixel(upright.picture, width >> 1, height - 5)[0]).toBeGreaterThan(150);
  });

  it('of one pixel, or with a margin larger than the frame, is laid without harm', () => {
    const dot = plain(1, 1, [1, 2, 3, 255]);
    const laid = placeEmblem({ ...emblem, width: 1, margin: 50, turn: 33 }, dot, { width: 20, height: 10 });
    expect(laid.picture.width).toBeGreaterThanOrEqual(1);
  });
});

const key = (frame: number, x: number, by: VeilKey['by'] = 'hand'): VeilKey => ({
  ...{ frame, x, y: 0.2, width: 0.3, height: 0.4, by },
});
const veil: Veil = {
  ...{ id: 'v', name: 'v', shape: 'rectangle', mask: null, effect: 'plain', strength: 50 },
  ...{ colour: '#123456', feather: 0, keys: [key(10, 0.2)], span: null, shown: true },
};

describe('where a veil lies', () => {
  it('is between its keys in straight lines, and beyond them where the last one lay', () => {
    const moved = { ...veil, keys: [key(10, 0.2), key(20, 0.6), key(40, 0.2)] };
    expect([0, 10, 15, 20, 30, 99].map((frame) => veilAt(moved, frame)?.x)).toEqual(
      [0.2, 0.2, 0.4, 0.6, 0.4, 0.2].map((x) => expect.closeTo(x, 9)),
    );
  });

  it('is nowhere where it is hidden or outside its frames', () => {
    expect(veilAt({ ...veil, shown: false }, 10)).toBeNull();
    const short = { ...veil, span: { start: 5, end: 12 } };
    expect([4, 5, 11, 12].map((frame) => veilAt(short, frame) !== null)).toEqual([false, true, true, false]);
  });
});

describe('keys that following laid down', () => {
  it('are as few as straight lines need', () => {
    const bent = Array.from({ length: 60 }, (_, i) => key(i, i < 30 ? i / 100 : 0.6 - i / 100, 'following'));
    expect(thinKeys(bent).map(({ frame }) => frame)).toEqual([0, 30, 59]);
  });

  it('come back to within their slack everywhere (6 seeds)', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const random = seeded(seed);
      let x = 0.5;
      const keys = Array.from({ length: 120 }, (_, i) => {
        x += (random() - 0.5) / 200;
        return key(i, x, 'following');
      });
      const thin = { ...veil, keys: thinKeys(keys) };
      expect(thin.keys.length, `seed ${seed}`).toBeLessThan(120);
      for (const { frame, x: there } of keys) {
        expect(Math.abs((veilAt(thin, frame)?.x ?? 9) - there), `seed ${seed}`).toBeLessThanOrEqual(0.0016);
      }
    }
  });

  it('never take the place of what a hand set, and leave the rest of the veil alone', () => {
    const there = {
      ...veil,
      keys: [key(0, 0.1), key(12, 0.9, 'following'), key(30, 0.5), key(50, 0.7, 'following')],
    };
    const followed = Array.from({ length: 11 }, (_, i) => key(10 + i, 0.3 + i / 100, 'following'));
    const keys = withFollowed(there, followed, 10);
    expect(keys.find(({ frame }) => frame === 0)?.x).toBe(0.1);
    expect(keys.find(({ frame }) => frame === 30)).toEqual(key(30, 0.5));
    expect(keys.find(({ frame }) => frame === 50)?.x).toBe(0.7);
    expect(keys.some(({ x }) => x === 0.9)).toBe(false);
    const joined = { ...veil, keys };
    expect(veilAt(joined, 15)?.x).toBeCloseTo(0.35, 2);
    for (let i = 1; i < keys.length; i++) expect(keys[i].frame).toBeGreaterThan(keys[i - 1].frame);
  });
});

/** A colour that stands nowhere else. */
const MARKER = [255, 0, 255, 255];

/** Grey ground, and fine stripes of the marker and its opposite wherever the veil must hide. */
function marked(width: number, height: number, inside: (x: number, y: number) => boolean): PixelFrame {
  const frame = plain(width, height, [128, 128, 128, 255]);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (inside(x, y)) frame.rgba.set((x + y) % 2 === 0 ? MARKER : [0, 255, 0, 255], (y * width + x) * 4);
    }
  }
  return frame;
}

/** Pixels in which the marker or its opposite can be made out. */
function betrayed({ rgba }: PixelFrame): number {
  let count = 0;
  for (let i = 0; i < rgba.length; i += 4) {
    const spread = Math.max(rgba[i], rgba[i + 1], rgba[i + 2]) - Math.min(rgba[i], rgba[i + 1], rgba[i + 2]);
    if (spread > 90) count++;
  }
  return count;
}

describe('what is hidden', () => {
  const canvas = { width: 96, height: 64 };
  const whole = { x: 0, y: 0, ...canvas };
  const laid = (frame: PixelFrame, one: Veil, at = 10, masks = new Map()) =>
    hideVeiled({ picture: frame, canvas, placement: whole }, [one], at, masks);

  it('cannot be made out under any veil, not at its rim either (all shapes and effects, 12 seeds)', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const rect = {
        x: random() * 0.5 - 0.05,
        y: random() * 0.5 - 0.05,
        width: 0.25 + random() * 0.4,
        height: 0.3 + random() * 0.4,
      };
      for (const shape of ['rectangle', 'ellipse'] as const) {
        const [halfX, halfY] = [rect.width / 2, rect.height / 2];
        // Of every pixel the veil touches, the middle is looked at.
        const inside = (x: number, y: number) => {
          const across = ((x + 0.5) / 96 - rect.x - halfX) / halfX;
          const down = ((y + 0.5) / 64 - rect.y - halfY) / halfY;
          return shape === 'ellipse'
            ? across * across + down * down < 1
            : Math.abs(across) < 1 && Math.abs(down) < 1;
        };
        const frame = marked(96, 64, inside);
        expect(betrayed(frame)).toBeGreaterThan(100);
        for (const effect of ['plain', 'blocks', 'blur'] as const) {
          const one: Veil = {
            ...{ ...veil, shape, effect, feather: 20 * random(), colour: '#808080' },
            strength: 40 + 60 * random(),
            keys: [{ ...rect, frame: 10, by: 'hand' }],
          };
          const hidden = laid(frame, one);
          expect(betrayed(hidden), `seed ${seed}, ${shape}, ${effect}`).toBe(0);
        }
      }
    }
  });

  it('is painted over where there is paint, and moves along with the keys', () => {
    const values = new Uint8Array(96 * 64);
    for (let y = 20; y < 40; y++) values.fill(255, y * 96 + 10, y * 96 + 30);
    const mask = createMask(96, 64, values);
    const bounds = { x: 10 / 96, y: 20 / 64, width: 20 / 96, height: 20 / 64 };
    const one: Veil = {
      ...{ ...veil, shape: 'painted', mask: 'm', effect: 'plain', colour: '#00ff00' },
      keys: [
        { ...bounds, frame: 0, by: 'hand' },
        { ...bounds, x: 50 / 96, frame: 10, by: 'hand' },
      ],
    };
    const masks = new Map([['m', mask]]);
    const first = laid(plain(96, 64, [9, 9, 9, 255]), one, 0, masks);
    const last = laid(plain(96, 64, [9, 9, 9, 255]), one, 10, masks);
    expect([pixel(first, 15, 30), pixel(first, 60, 30)]).toEqual([
      [0, 255, 0, 255],
      [9, 9, 9, 255],
    ]);
    expect([pixel(last, 15, 30), pixel(last, 60, 30)]).toEqual([
      [9, 9, 9, 255],
      [0, 255, 0, 255],
    ]);
  });

  it('outside the picture changes nothing, and the picture it was given is never written into', () => {
    const frame = noiseFrame(96, 64, seeded(2));
    const before = frame.rgba.slice();
    const away = { ...veil, keys: [{ ...key(10, 0), x: 2, y: 2 }] };
    expect(laid(frame, away)).toBe(frame);
    laid(frame, veil);
    expect(frame.rgba).toEqual(before);
  });

  it('lies on the same place of a picture that was decoded smaller, or that lies off the canvas’s corner', () => {
    const small = hideVeiled(
      { picture: plain(48, 32, [9, 9, 9, 255]), canvas, placement: whole },
      [{ ...veil, colour: '#00ff00' }],
      10,
      new Map(),
    );
    expect(pixel(small, Math.floor(0.3 * 48), Math.floor(0.4 * 32))).toEqual([0, 255, 0, 255]);
    expect(pixel(small, Math.floor(0.6 * 48), Math.floor(0.4 * 32))).toEqual([9, 9, 9, 255]);
    const off = hideVeiled(
      { picture: plain(48, 32, [9, 9, 9, 255]), canvas, placement: { x: 24, y: 16, width: 48, height: 32 } },
      [{ ...veil, colour: '#00ff00' }],
      10,
      new Map(),
    );
    // A fifth to half of 96 px across is 19 to 48: of the picture, which begins at 24, the first 24 px.
    expect(pixel(off, 10, 10)).toEqual([0, 255, 0, 255]);
    expect(pixel(off, 30, 10)).toEqual([9, 9, 9, 255]);
  });

  it('so finely that it could be undone is warned of; plain never', () => {
    expect(couldBeUndone({ effect: 'blocks', strength: 10 })).toBe(true);
    expect(couldBeUndone({ effect: 'blur', strength: 5 })).toBe(true);
    expect(couldBeUndone({ effect: 'blocks', strength: 50 })).toBe(false);
    expect(couldBeUndone({ effect: 'plain', strength: 1 })).toBe(false);
  });
});

describe('words', () => {
  it('lose what has no shape, and that is told', () => {
    expect(cleanText('Tea\u0007\u0000 time\r\nnow')).toEqual({
      text: 'Tea time\nnow',
      notes: ['Control characters were left out: they have no shape.'],
    });
    expect(cleanText('a\u202eb\u2066c').text).toBe('abc');
    expect(cleanText('half \ud83d done').text).toBe('half  done');
    expect(cleanText('مرحبا\u200f!').notes).toEqual([]);
  });

  it('of twenty thousand letters are cut between letters, and that is told', () => {
    const { text, notes } = cleanText('😀'.repeat(20_000));
    expect(text).toBe('😀'.repeat(250));
    expect(notes).toEqual(['A caption holds 500 letters; the rest of 20000 was left out.']);
  });

  it('run the way of their first letter', () => {
    expect(['שלום', '123 שלום', 'مرحبا tea', 'tea مرحبا', '—', 'नमस्ते'].map(runsRightToLeft)).toEqual([
      ...[true, true, true, false, false, false],
    ]);
  });

  it('are drawn as text, never as markup', () => {
    const caption = { ...newCaption(CAPTION_STARTS.below, 'a'), text: '</text><script>&"x' };
    const { svg } = captionSvg(caption, 'A "B"', 20, { x: -30, width: 60 });
    expect(svg).toContain('&lt;/text&gt;&lt;script&gt;&amp;&quot;x');
    expect(svg).toContain('font-family="A &quot;B&quot;"');
    expect(svg).not.toContain('<script>');
  });
});

describe('fonts', () => {
  it('know their characters by runs (6 seeds)', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const random = seeded(seed);
      const characters = new Set(Array.from({ length: 400 }, () => wholeFrom(random, 0, 900)));
      const runs = runsOf([...characters].sort((a, b) => a - b));
      for (let c = 0; c <= 900; c++)
        expect(hasCharacter({ runs }, c), `seed ${seed}`).toBe(characters.has(c));
    }
  });

  it('are added for what the chosen one lacks, and what none has is named once', () => {
    const faces = [
      { id: 'latin', family: 'L', runs: [0x20, 0x7e] },
      { id: 'hebrew', family: 'H', runs: [0x590, 0x5ff] },
      { id: 'own', family: 'O', runs: [0x41, 0x42] },
    ];
    const choice = chooseFonts('AB שלום \n\u200dꙮ ꙮ', 'own', faces);
    expect(choice.faces.map(({ id }) => id)).toEqual(['own', 'latin', 'hebrew']);
    expect(choice.missing).toEqual(['ꙮ']);
  });
});

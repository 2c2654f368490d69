import { describe, expect, it } from 'vitest';
import { UNDRESSED, type Veil } from '../dress/index.js';
import { newRecipe, type Recipe, takeOf } from '../recipe/index.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { idleVeils, loopOf } from './index.js';

const HASH = 'a'.repeat(64);
const times = { starts: Array.from({ length: 60 }, (_, i) => i / 20), duration: 3 };
const files = [{ hash: HASH, size: { width: 200, height: 100 }, times }];
const base: Recipe = { ...newRecipe(HASH, times), span: { start: 20, end: 40 } };

const veil = (part: Partial<Veil> = {}): Veil => ({
  ...{ id: 'v', name: 'Face', shape: 'rectangle', mask: null, effect: 'plain', strength: 50 },
  ...{ colour: '#000000', feather: 0, span: null, shown: true },
  keys: [{ x: 0.1, y: 0.1, width: 0.2, height: 0.2, frame: 0, by: 'hand' }],
  ...part,
});
const at = (x: number, y: number) => [{ x, y, width: 0.1, height: 0.1, frame: 0, by: 'hand' as const }];

const idle = (veils: readonly Veil[], recipe: Recipe = base) => {
  const dressed = { ...recipe, dress: { ...UNDRESSED, veils } };
  return idleVeils(dressed, takeOf(dressed, files)).map(({ name }) => name);
};

describe('veils that hide nothing', () => {
  it.each<[string, Partial<Veil>, boolean]>([
    ['lies on all frames', {}, false],
    ['lies on the second half of the span', { span: { start: 30, end: 50 } }, false],
    ['lies behind the span', { span: { start: 40, end: 60 } }, true],
    ['lies before the span', { span: { start: 0, end: 20 } }, true],
    ['is hidden on purpose', { span: { start: 0, end: 20 }, shown: false }, false],
    ['lies beside the picture', { keys: at(1.2, 0.2) }, true],
    ['touches the picture’s edge with a corner', { keys: at(-0.05, -0.05) }, false],
  ])('one that %s', (_, part, isIdle) => {
    expect(idle([veil(part)])).toEqual(isIdle ? ['Face'] : []);
  });

  it('are told where a crop leaves them out', () => {
    const cropped = {
      ...base,
      framing: { ...base.framing, crop: { x: 100, y: 0, width: 100, height: 100 } },
    };
    expect(idle([veil({ name: 'left' }), veil({ name: 'right', keys: at(0.7, 0.2) })], cropped)).toEqual([
      'left',
    ]);
  });

  it('are not told of frames that only the plate, or a crossfade, shows', () => {
    const onPlate = veil({ span: { start: 50, end: 51 } });
    const held: Recipe = { ...base, still: { ...base.still, plate: { kind: 'frame', frame: 50 } } };
    expect([idle([onPlate]), idle([onPlate], held)]).toEqual([['Face'], []]);
    const faded: Recipe = { ...base, loop: { ...base.loop, join: { kind: 'crossfade', frames: 6 } } };
    expect(idle([veil({ span: { start: 15, end: 20 } })], faded)).toEqual([]);
  });

  it('are exactly those without a frame that the reel shows (seeded)', () => {
    for (const seed of [1, 2, 3]) {
      const random = seeded(seed);
      for (let round = 0; round < 60; round++) {
        const start = wholeFrom(random, 0, 50);
        const span = { start, end: wholeFrom(random, start + 2, 60) };
        const from = wholeFrom(random, 0, 58);
        const lies = { start: from, end: wholeFrom(random, from + 1, 60) };
        const recipe: Recipe = {
          ...base,
          span,
          weigh: { ...base.weigh, frameRate: wholeFrom(random, 2, 20) },
        };
        const shown = loopOf(recipe, takeOf(recipe, files)).reel.map(({ source }) => source);
        const hides = shown.some((frame) => frame >= lies.start && frame < lies.end);
        expect(idle([veil({ span: lies })], recipe), `seed ${seed}, round ${round}`).toEqual(
          hides ? [] : ['Face'],
        );
      }
    }
  });
});

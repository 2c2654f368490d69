import type { FootageView } from '@muted-pond/core/api';
import { describe, expect, it } from 'vitest';
import { planPieces } from './plan-pieces.js';

const view = (name: string, kind: FootageView['kind'] = 'picture') =>
  ({ id: `id of ${name}`, name, kind }) as FootageView;
const ids = (...names: string[]) => names.map((name) => `id of ${name}`);

describe('files brought in together', () => {
  it('make one piece from pictures, in natural order, named after what their names share', () => {
    const plan = planPieces([view('menu 10.png'), view('menu 2.png'), view('Menu 1.jpg')]);
    expect(plan).toEqual({
      pieces: [{ stills: ids('Menu 1.jpg', 'menu 2.png', 'menu 10.png'), name: 'Menu' }],
      bySeries: null,
    });
  });

  it('make a piece from each video and animation beside it', () => {
    const plan = planPieces([view('pond.mp4', 'video'), view('stall_01.png'), view('old.gif', 'animation')]);
    expect(plan.pieces).toEqual([
      { stills: ids('stall_01.png'), name: 'Stall' },
      { footage: 'id of pond.mp4' },
      { footage: 'id of old.gif' },
    ]);
    expect(planPieces([view('a.mp4', 'video')])).toEqual({
      pieces: [{ footage: 'id of a.mp4' }],
      bySeries: null,
    });
  });

  it('are unclear only where the names fall into several series', () => {
    const plan = planPieces(
      ['tea 1.png', 'cup (1).png', 'tea 2.png', 'cup (2).png'].map((name) => view(name)),
    );
    expect(plan.pieces).toHaveLength(1);
    expect(plan.bySeries).toEqual([
      { stills: ids('cup (1).png', 'cup (2).png'), name: 'Cup' },
      { stills: ids('tea 1.png', 'tea 2.png'), name: 'Tea' },
    ]);
    const odd = planPieces(['tea 1.png', 'tea 2.png', 'door.png'].map((name) => view(name)));
    expect(odd.bySeries).toBeNull();
    expect(odd.pieces[0].name).toBe('3 pictures');
  });
});

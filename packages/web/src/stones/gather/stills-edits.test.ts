import { newStillPicture, newStillsRecipe, type Recipe, type SourceFile } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { byName } from '../../ui/natural-order.js';
import { editPicture, movedFocus, setCanvas, setPictures } from './stills-edits.js';

const file = (letter: string): SourceFile => ({
  hash: letter.repeat(64),
  size: { width: 100, height: 50 },
  times: { starts: [0], duration: 1 },
});
const recipe = newStillsRecipe([file('1'), file('2'), file('3')]);
const lettersOf = ({ sources: [source] }: Recipe) =>
  source.kind === 'stills' ? source.pictures.map((picture) => picture.hash[0]).join('') : '';

describe('the pictures of a piece', () => {
  const [source] = recipe.sources;
  const pictures = source.kind === 'stills' ? source.pictures : [];

  it('in another order or number keep a span over all', () => {
    const reversed = setPictures(recipe, pictures.toReversed());
    expect([lettersOf(reversed), reversed.span]).toEqual(['321', { start: 0, end: 3 }]);
    const more = setPictures(recipe, [...pictures, newStillPicture('4'.repeat(64))]);
    expect(more.span).toEqual({ start: 0, end: 4 });
  });

  it('taken out trim a span that reaches beyond, and the last one stays', () => {
    const part = { ...recipe, span: { start: 1, end: 3 } };
    expect(setPictures(part, pictures.slice(0, 2)).span).toEqual({ start: 1, end: 2 });
    expect(setPictures(recipe, [])).toBe(recipe);
  });

  it('have rules of their own', () => {
    const edited = editPicture(recipe, 1, { fit: 'cover' });
    const [changed] = edited.sources;
    expect(changed.kind === 'stills' && changed.pictures.map((picture) => picture.fit)).toEqual([
      null,
      'cover',
      null,
    ]);
  });

  it('stand in natural order of their names', () => {
    const names = ['panel 10.png', 'Panel 9.png', 'panel 1.png', 'b.png', 'A.png'];
    expect(byName(names, (name) => name)).toEqual([
      'A.png',
      'b.png',
      'panel 1.png',
      'Panel 9.png',
      'panel 10.png',
    ]);
  });
});

describe('a canvas', () => {
  it('of another size drops the crop, which was of the old one', () => {
    const cropped = { ...recipe, framing: { ...recipe.framing, crop: { x: 1, y: 1, width: 9, height: 9 } } };
    const edited = setCanvas(cropped, { width: 30, height: 40 });
    expect(edited.framing.crop).toBeNull();
    expect(edited.sources[0]).toMatchObject({ canvas: { width: 30, height: 40 } });
  });
});

describe('a picture moved over its canvas', () => {
  const canvas = { width: 300, height: 300 };
  it('follows the hand where something is cut off, as far as it reaches', () => {
    const wide = { width: 600, height: 300 };
    const start = { x: 0.5, y: 0.5 };
    // 300 px too wide: dragged 150 px to the right, its left edge meets the canvas.
    expect(movedFocus(wide, canvas, 'cover', start, { x: 150, y: 40 })).toEqual({ x: 0, y: 0.5 });
    expect(movedFocus(wide, canvas, 'cover', start, { x: -75, y: 0 })).toEqual({ x: 0.75, y: 0.5 });
    expect(movedFocus(wide, canvas, 'cover', start, { x: -900, y: 0 })).toEqual({ x: 1, y: 0.5 });
  });

  it('moves in the room beside it where it is whole', () => {
    const wide = { width: 600, height: 300 };
    // 300 × 150 on the canvas, 150 px of room: dragged 75 px down, it stands at the bottom.
    expect(movedFocus(wide, canvas, 'contain', { x: 0.5, y: 0.5 }, { x: 30, y: 75 })).toEqual({
      x: 0.5,
      y: 1,
    });
    expect(movedFocus(wide, canvas, 'stretch', { x: 0.2, y: 0.3 }, { x: 9, y: 9 })).toEqual({
      x: 0.2,
      y: 0.3,
    });
  });
});

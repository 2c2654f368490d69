import { DEFAULT_WEIGH } from '@muted-pond/core/recipe';
import { expect, it } from 'vitest';
import { chooseColour, releaseColour } from './chosen-edits.js';

it('a colour is kept or dropped, never both nor twice, and released', () => {
  let weigh = chooseColour(DEFAULT_WEIGH, 'kept', '#1f8a70');
  weigh = chooseColour(weigh, 'kept', '#1f8a70');
  weigh = chooseColour(weigh, 'kept', '#ffffff');
  expect([weigh.kept, weigh.dropped]).toEqual([['#1f8a70', '#ffffff'], []]);
  weigh = chooseColour(weigh, 'dropped', '#1f8a70');
  expect([weigh.kept, weigh.dropped]).toEqual([['#ffffff'], ['#1f8a70']]);
  expect(releaseColour(releaseColour(weigh, '#1f8a70'), '#ffffff')).toEqual(DEFAULT_WEIGH);
});

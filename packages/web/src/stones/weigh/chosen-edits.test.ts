import { DEFAULT_GIF } from '@muted-pond/core/files';
import { expect, it } from 'vitest';
import { chooseColour, releaseColour } from './chosen-edits.js';

it('a colour is kept or dropped, never both nor twice, and released', () => {
  let chosen = chooseColour(DEFAULT_GIF, 'kept', '#1f8a70');
  chosen = chooseColour(chosen, 'kept', '#1f8a70');
  chosen = chooseColour(chosen, 'kept', '#ffffff');
  expect([chosen.kept, chosen.dropped]).toEqual([['#1f8a70', '#ffffff'], []]);
  chosen = chooseColour(chosen, 'dropped', '#1f8a70');
  expect([chosen.kept, chosen.dropped]).toEqual([['#ffffff'], ['#1f8a70']]);
  expect(releaseColour(releaseColour(chosen, '#1f8a70'), '#ffffff')).toEqual(DEFAULT_GIF);
});

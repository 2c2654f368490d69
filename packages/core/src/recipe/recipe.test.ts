import { describe, expect, it } from 'vitest';
import { newRecipe, QUALITY_NAMES, RECIPE_VERSION, readRecipe } from './index.js';

const HASH = 'a'.repeat(64);
const times = { starts: Array.from({ length: 300 }, (_, i) => i / 30), duration: 10 };
const good = newRecipe(HASH, times);

describe('a recipe', () => {
  it('begins as three seconds of the footage, or all of it when it is shorter', () => {
    expect(good.span).toEqual({ start: 0, end: 90 });
    expect(newRecipe(HASH, { starts: [0, 0.5, 1], duration: 1.5 }).span).toEqual({ start: 0, end: 3 });
  });

  it('is read back from JSON as it was', () => {
    expect(readRecipe(JSON.parse(JSON.stringify(good)))).toEqual({ type: 'ok', recipe: good });
  });

  it('of a later version is told of kindly', () => {
    const reading = readRecipe({ ...good, version: RECIPE_VERSION + 1 });
    expect(reading).toMatchObject({ type: 'error', reason: 'too-new' });
  });

  it.each([
    ['nothing', null],
    ['a number', 7],
    ['no version', {}],
    ['a version that is none', { version: 'one' }],
  ])('is not %s', (_, stored) => {
    expect(readRecipe(stored)).toMatchObject({ type: 'error', reason: 'not-a-recipe' });
  });

  it('with what it cannot have is refused by name, all at once', () => {
    const reading = readRecipe({
      ...good,
      span: { start: 5, end: 5 },
      weigh: { ...good.weigh, colors: 300, dither: 'sparkle' },
      surprise: 1,
    });
    expect(reading).toMatchObject({ type: 'error', reason: 'invalid' });
    const { message } = reading as { message: string };
    for (const word of ['span.end', 'colors', 'dither', 'surprise']) expect(message).toContain(word);
  });

  it('knows three plain qualities', () => {
    expect(QUALITY_NAMES).toEqual(['near-lossless', 'balanced', 'small']);
  });
});

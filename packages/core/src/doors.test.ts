import { describe, expect, it } from 'vitest';

/** What each folder offers to the others. A name that comes or goes is a decision, not an accident. */
const DOORS: Record<string, readonly string[]> = {
  pixels: [
    'LINEAR_FROM_SRGB8',
    'LINEAR_MAX',
    'SRGB8_FROM_LINEAR',
    'assertOneSize',
    'createFrame',
    'createResizer',
    'linearToSrgb',
    'pixelWords',
    'sizeForWidth',
    'sizeWithin',
    'srgbToLinear',
  ],
  timing: [
    'LONGEST_DELAY_CS',
    'SHORTEST_HONEST_DELAY_CS',
    'boundaryTime',
    'fitSpan',
    'frameAt',
    'makeReel',
    'nearestBoundary',
    'nearestFrame',
    'reelCentiseconds',
    'shareCentiseconds',
    'spanSeconds',
  ],
  settle: ['STRIP_ROWS', 'createSettleStrip', 'settle'],
  palette: [
    'DISTANCE_PER_SQUARED_LEVEL',
    'DITHER_NAMES',
    'buildPalette',
    'colourDistance',
    'createNearestColour',
    'mapColours',
    'nearestColourBySearch',
    'paletteSpacing',
  ],
  gif: ['GifError', 'composeGif', 'encodeGif', 'playGif', 'readGif'],
  weigh: ['createLikenessMeter', 'measureLikeness', 'structuralSimilarity'],
  recipe: [
    'DEFAULT_WEIGH',
    'QUALITIES',
    'QUALITY_NAMES',
    'RECIPE_LIMITS',
    'RECIPE_VERSION',
    'newRecipe',
    'readRecipe',
    'recipeSchema',
    'weighSchema',
  ],
  render: ['ENGINE_VERSION', 'createComposer', 'planRender', 'renderGif'],
  api: ['newPieceSchema', 'newTrialSchema', 'pieceSaveSchema'],
};

describe('the folders’ doors', () => {
  it.each(Object.entries(DOORS))('%s offers what it says', async (folder, names) => {
    const door = await import(`./${folder}/index.ts`);
    expect(Object.keys(door).sort()).toEqual([...names].sort());
  });
});

export { buildPalette } from './build-palette.js';
export {
  type ChosenColours,
  COLOUR_PATTERN,
  colourOf,
  hexOf,
  NO_CHOICE,
  withChosen,
} from './chosen-colours.js';
export { DITHER_NAMES, type DitherName } from './dithers/index.js';
export { type MapWork, mapColours, type PlannedReel, paletteSpacing, startMapping } from './map-colours.js';
export { createNearestColour, type NearestColour, nearestColourBySearch, opponentValues } from './nearest.js';
export {
  hasOnePalette,
  onePalette,
  PALETTE_PLANS,
  type PalettePlan,
  type PalettePlanOptions,
  type PaletteWork,
  planPalettes,
  type ReelPalettes,
  startPalettes,
} from './plan-palettes.js';
export { type ColourCounter, createColourCounter, type SharedColours } from './share-colours.js';

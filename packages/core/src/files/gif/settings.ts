import Joi from 'joi';
import {
  type ChosenColours,
  COLOUR_PATTERN,
  DITHER_NAMES,
  type DitherName,
  NO_CHOICE,
  PALETTE_PLANS,
  type PalettePlan,
} from '../../palette/index.js';
import { real, whole } from '../../schema/index.js';
import { QUALITIES } from './quality.js';

/** How a reel is made into a light GIF. */
export interface GifSettings extends ChosenColours {
  /** Palette entries, 2–256. */
  readonly colors: number;
  /** How many palettes there are: as many as pay, one, or one for each frame. */
  readonly palette: PalettePlan;
  readonly dither: DitherName;
  /** Per cent of the dither's full effect, 0–100. */
  readonly ditherStrength: number;
  /** How much a pixel must change before it is redrawn, in levels, 0–100. */
  readonly settle: number;
  /** How far similar pixel runs may be merged, in levels, 0–100. */
  readonly squeeze: number;
  /** Rows in an order in which a slow line shows the whole picture early; a little heavier. */
  readonly interlaced: boolean;
}

export const GIF_LIMITS = {
  colors: { min: 2, max: 256 },
  ditherStrength: { min: 0, max: 100 },
  settle: { min: 0, max: 100 },
  squeeze: { min: 0, max: 100 },
  /** Colours kept or dropped by hand. */
  chosen: { min: 0, max: 64 },
} as const;

export const DEFAULT_GIF: GifSettings = {
  colors: 256,
  palette: 'auto',
  dither: 'floyd-steinberg',
  ditherStrength: 50,
  ...QUALITIES.balanced,
  ...NO_CHOICE,
  interlaced: false,
};

const chosenColours = Joi.array()
  .items(Joi.string().pattern(COLOUR_PATTERN))
  .max(GIF_LIMITS.chosen.max)
  .required();

export const gifSchema = Joi.object<GifSettings>({
  colors: whole(GIF_LIMITS.colors),
  palette: Joi.string()
    .valid(...PALETTE_PLANS)
    .required(),
  dither: Joi.string()
    .valid(...DITHER_NAMES)
    .required(),
  ditherStrength: real(GIF_LIMITS.ditherStrength),
  settle: real(GIF_LIMITS.settle),
  squeeze: real(GIF_LIMITS.squeeze),
  kept: chosenColours,
  dropped: chosenColours,
  interlaced: Joi.boolean().required(),
});

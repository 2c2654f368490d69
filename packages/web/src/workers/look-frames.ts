import {
  type ColourSettings,
  colourExactly,
  colourFunctions,
  inTurn,
  LOOK_IDS,
  type LookId,
} from '@muted-pond/core/colour';
import { createResizer, type PixelFrame, sizeWithin } from '@muted-pond/core/pixels';

/** A picture in its own colours, and in each look. */
export type LookFrames = Readonly<Record<LookId | 'none', PixelFrame>>;

/** Longer side, px. */
const LOOK_SIDE = 148;

/** What each look makes of a picture, over what is set by hand, at full strength. */
export function lookFrames(picture: PixelFrame, settings: ColourSettings): LookFrames {
  const size = sizeWithin(picture, LOOK_SIDE);
  const small = createResizer(picture, size).resize(picture);
  const made = (look: ColourSettings['look']) => {
    const { grade, look: change } = colourFunctions({ ...settings, look, table: null }, null);
    return colourExactly(small, inTurn([grade, change]));
  };
  return Object.fromEntries([
    ['none', made(null)],
    ...LOOK_IDS.map((id) => [id, made({ id, strength: 100 })]),
  ]) as LookFrames;
}

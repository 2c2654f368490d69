import { LRUCache } from 'lru-cache';
import {
  type ColourFunction,
  type ColourPixels,
  type Cube,
  colourFunctions,
  createColourPixels,
  foldSettings,
  inTurn,
  keepsColours,
  sharpen,
} from '../../colour/index.js';
import type { PixelFrame } from '../../pixels/index.js';
import { joinMasks, layRipples } from '../../still/index.js';
import { masksOf, type ReelStep } from './step.js';

/** Sharpness, what is set by hand, look and table, over plate and ripples. */
export const colour: ReelStep = {
  name: 'colour',
  dependsOn: ({ dress, still, isDraft }) =>
    keepsColours(dress.colour) ? null : [dress.colour, still && masksOf(still), isDraft],
  prepare({ plan, plate, assets }) {
    const settings = plan.dress.colour;
    if (keepsColours(settings)) return null;
    const { grade, look } = colourFunctions(settings, assets.cube);
    const { isDraft } = plan;
    const inputs = [settings.grade, settings.look, settings.table, isDraft];
    const whole = coloured(inTurn([grade, look]), { cube: assets.cube, isDraft }, inputs);
    const mask = plate && settings.part !== 'everywhere' && look ? plate.masks.reduce(joinMasks) : null;
    // Copies of a frame, and rests, are coloured once.
    const made = new WeakMap<PixelFrame, PixelFrame>();
    const plain = mask ? coloured(grade, { cube: null, isDraft }, [settings.grade, isDraft]) : null;
    return ([picture]) => {
      const there = made.get(picture);
      if (there) return [there];
      const sharp = sharpen(picture, settings.sharpness);
      let next = whole(sharp);
      if (mask && plain) {
        next =
          settings.part === 'held'
            ? layRipples(next, plain(sharp), mask)
            : layRipples(plain(sharp), next, mask);
      }
      made.set(picture, next);
      return [next];
    };
  },
};

/** Tables that were folded last, by all they depend on: parts of one reel share them. */
const folded = new LRUCache<string, ColourPixels>({ max: 4 });

function coloured(
  change: ColourFunction | null,
  way: { readonly cube: Cube | null; readonly isDraft: boolean },
  inputs: unknown,
): ColourPixels {
  if (!change) return (picture) => picture;
  const key = JSON.stringify(inputs);
  const there = folded.get(key);
  if (there) return there;
  const made = createColourPixels(foldSettings(change, way));
  folded.set(key, made);
  return made;
}

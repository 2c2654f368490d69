import { hideVeiled, type Veil } from '../../dress/index.js';
import type { PixelFrame, Rect } from '../../pixels/index.js';
import type { Mask } from '../../still/index.js';
import type { RenderPlan } from '../plan-render.js';
import type { DecodedStep } from './step.js';

/** Veils come before all other steps, so that no later step, and no plate, can show what they hide. */
export const veil: DecodedStep = {
  name: 'veil',
  dependsOn: ({ dress }) => shownVeils(dress.veils).map(({ id, name, shown, ...hides }) => hides),
  async prepare({ plan, composition, veilMasks }) {
    if (shownVeils(plan.dress.veils).length === 0) return null;
    return { apply: (picture, frame) => veilPicture(plan, picture, frame, composition.placement, veilMasks) };
  },
};

function shownVeils(veils: readonly Veil[]): readonly Veil[] {
  return veils.filter((one) => one.shown);
}

/** @param placement where the picture lies on the take's canvas. */
export function veilPicture(
  { dress, take }: RenderPlan,
  picture: PixelFrame,
  frame: number,
  placement: Rect,
  masks: ReadonlyMap<string, Mask>,
): PixelFrame {
  return hideVeiled({ picture, canvas: take.size, placement }, dress.veils, frame, masks);
}

import { layOver } from '../../dress/index.js';
import { createFrame } from '../../pixels/index.js';
import type { ReelStep } from './step.js';

/** Emblems, then captions, on frames of the finished size. */
export const overlay: ReelStep = {
  name: 'overlay',
  dependsOn({ dress, beginsCs }) {
    const emblems = dress.emblems.filter((one) => one.shown).map(({ id, name, shown, ...drawn }) => drawn);
    const captions = dress.captions.filter((one) => one.shown).map(({ id, shown, ...drawn }) => drawn);
    if (emblems.length === 0 && captions.length === 0) return null;
    return [emblems, captions, beginsCs];
  },
  prepare({ plan, assets: { overlays } }) {
    if (overlays.length === 0) return null;
    return ([picture], place) => {
      const atCs = plan.beginsCs[place];
      const seen = overlays
        .map((one) => ({ one, opacity: one.seenAt(atCs) }))
        .filter(({ opacity }) => opacity > 0);
      if (seen.length === 0) return [picture];
      const laid = createFrame(picture.width, picture.height, picture.rgba.slice());
      for (const { one, opacity } of seen) layOver(laid, one, opacity);
      return [laid];
    };
  },
};

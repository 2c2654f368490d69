import { edgeFrame } from '../../dress/index.js';
import { createFrame } from '../../pixels/index.js';
import type { ReelStep } from './step.js';

/** The border and the corners of every frame, over all else. */
export const edge: ReelStep = {
  name: 'edge',
  dependsOn: ({ dress: { border, corners } }) => (border || corners ? [border, corners] : null),
  prepare({ plan: { dress } }) {
    const { border, corners } = dress;
    if (!border && !corners) return null;
    return ([picture]) => {
      const edged = createFrame(picture.width, picture.height, picture.rgba.slice());
      edgeFrame(edged, border, corners);
      return [edged];
    };
  },
};

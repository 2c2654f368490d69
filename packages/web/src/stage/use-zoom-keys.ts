import { useHotkeys } from '@mantine/hooks';
import { panBy, showWhole } from './zoom-view.js';

/** How far a key moves the picture, share of its side. */
const PAN_STEP = 0.12;

/** The keys that move a picture that is close, and the one that shows all of it. */
export function useZoomKeys(): void {
  useHotkeys([
    ['Home', showWhole],
    ['alt+ArrowLeft', () => panBy(PAN_STEP, 0)],
    ['alt+ArrowRight', () => panBy(-PAN_STEP, 0)],
    ['alt+ArrowUp', () => panBy(0, PAN_STEP)],
    ['alt+ArrowDown', () => panBy(0, -PAN_STEP)],
  ]);
}

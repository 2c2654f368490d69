import { isWellLed, type LedFigures } from '@muted-pond/core/loop';
import classes from './loop.module.css';
import { toggleLook, useLoopView } from './loop-view.js';
import { useSeamNow } from './seam-now.js';

const percent = (share: number) => `${Math.round(100 * share)} %`;

/** So little of the picture is not worth a map. */
const LEAST_LOST = 0.005;

/** What could be led where the end flows into the start, and what could not. */
export function FlowNote() {
  const seam = useSeamNow();
  const isShown = useLoopView((view) => view.look === 'fallen');
  const led = seam !== null && typeof seam !== 'string' && !seam.isStale ? seam.led : null;
  if (!led) return null;
  return (
    <p className={isWellLed({ led }) ? classes.note : classes.warning} data-testid="flow-note">
      {sentenceOf(led)}{' '}
      {led.lost >= LEAST_LOST && (
        <button type="button" aria-pressed={isShown} onClick={() => toggleLook('fallen')}>
          Show which
        </button>
      )}
    </p>
  );
}

function sentenceOf(led: LedFigures): string {
  const left =
    led.lost < LEAST_LOST
      ? 'All of the picture follows.'
      : `${percent(led.lost)} of the picture cannot follow and changes over quickly.`;
  if (isWellLed({ led })) return left;
  const isTooFar = isWellLed({ led: { ...led, far: 0 } });
  const far = `Things would be led over ${percent(led.far)} of the width.`;
  return `End and start are too unlike to flow into each other. Find another place. ${isTooFar ? far : left}`;
}

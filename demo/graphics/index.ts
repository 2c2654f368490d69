import { makeBadge, makeOldLoop } from './animations.js';
import { makeBooking } from './booking.js';
import { makePanels, makeStalls } from './stills.js';

/** Demo files that are drawn, not filmed. A new one is a file beside these and a line here. */
export const GRAPHICS: Readonly<Record<string, (out: string) => Promise<void>>> = {
  booking: makeBooking,
  panels: makePanels,
  stalls: makeStalls,
  badge: makeBadge,
  'old-loop': makeOldLoop,
};

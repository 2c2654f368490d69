/** Some viewers show frames that last less than this for a tenth of a second, centiseconds. */
export const STRETCHED_UNDER_CS = 6;
export const STRETCHED_TO_CS = 10;

/** How long such a viewer shows a frame. */
export function stretchedCs(delayCs: number): number {
  return delayCs < STRETCHED_UNDER_CS ? STRETCHED_TO_CS : delayCs;
}

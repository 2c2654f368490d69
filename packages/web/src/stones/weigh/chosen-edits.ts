import type { WeighSettings } from '@muted-pond/core/recipe';

/** A colour kept or dropped by hand; it cannot be both. */
export function chooseColour(weigh: WeighSettings, how: 'kept' | 'dropped', colour: string): WeighSettings {
  const free = releaseColour(weigh, colour);
  return { ...free, [how]: [...free[how], colour] };
}

export function releaseColour(weigh: WeighSettings, colour: string): WeighSettings {
  const without = (colours: readonly string[]) => colours.filter((one) => one !== colour);
  return { ...weigh, kept: without(weigh.kept), dropped: without(weigh.dropped) };
}

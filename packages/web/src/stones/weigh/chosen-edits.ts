import type { ChosenColours } from '@muted-pond/core/palette';

/** A colour kept or dropped by hand; it cannot be both. */
export function chooseColour<Settings extends ChosenColours>(
  settings: Settings,
  how: 'kept' | 'dropped',
  colour: string,
): Settings {
  const free = releaseColour(settings, colour);
  return { ...free, [how]: [...free[how], colour] };
}

export function releaseColour<Settings extends ChosenColours>(settings: Settings, colour: string): Settings {
  const without = (colours: readonly string[]) => colours.filter((one) => one !== colour);
  return { ...settings, kept: without(settings.kept), dropped: without(settings.dropped) };
}

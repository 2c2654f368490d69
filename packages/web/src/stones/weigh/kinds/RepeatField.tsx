import { REPEAT_LIMITS, type RepeatedSettings, roundsOf } from '@muted-pond/core/files';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { usePieceLoop } from '../../../piece/piece-loop.js';
import { formatSeconds } from '../../../ui/format.js';
import { SliderRow } from '../../../ui/SliderRow.js';
import classes from '../weigh.module.css';

interface RepeatFieldProps {
  readonly settings: RepeatedSettings;
  readonly set: (part: RepeatedSettings) => void;
}

/** A place that wants a movie of a length gets as many whole rounds as it takes. */
export function RepeatField({ settings, set }: RepeatFieldProps) {
  const { loop } = usePieceLoop();
  const seconds = loop ? reelCentiseconds(loop.reel) / 100 : 0;
  const rounds = seconds > 0 ? roundsOf(settings, seconds) : 1;
  return (
    <>
      <SliderRow
        label="Repeat to"
        unit=" s"
        hint="Whole rounds, as many as fit into so many seconds"
        value={settings.repeatTo}
        min={0}
        max={60}
        widest={[REPEAT_LIMITS.repeatTo.min, REPEAT_LIMITS.repeatTo.max]}
        onChange={(repeatTo) => set({ repeatTo })}
      />
      <p className={classes.ownPace}>
        {rounds === 1
          ? `One round, ${formatSeconds(seconds)}. A page lets it go round.`
          : `${rounds} whole rounds, ${formatSeconds(seconds * rounds)}.`}
      </p>
    </>
  );
}

import { Button, SegmentedControl } from '@mantine/core';
import type { ShownTime } from '@muted-pond/core/dress';
import type { LoopReel } from '@muted-pond/core/loop';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import classes from './dress.module.css';
import { momentOf } from './reel-time.js';

interface TimeSectionProps {
  readonly time: ShownTime | null;
  readonly onChange: (time: ShownTime | null) => void;
}

/** When it is seen: the whole loop, or from one moment to another. */
export function TimeSection({ time, onChange }: TimeSectionProps) {
  const { loop } = usePieceLoop();
  if (!loop) return null;
  const totalCs = reelCentiseconds(loop.reel);
  return (
    <div className={classes.time}>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="When it is seen"
        value={time ? 'part' : 'whole'}
        onChange={(value) => onChange(value === 'whole' ? null : { fromCs: 0, toCs: totalCs })}
        data={[
          { value: 'whole', label: 'The whole loop' },
          { value: 'part', label: 'A part of it' },
        ]}
      />
      {time && <Moments time={time} loop={loop} totalCs={totalCs} onChange={onChange} />}
    </div>
  );
}

interface MomentsProps {
  readonly time: ShownTime;
  readonly loop: LoopReel;
  readonly totalCs: number;
  readonly onChange: (time: ShownTime) => void;
}

function Moments({ time, loop, totalCs, onChange }: MomentsProps) {
  const { session } = useWorkspace();
  const place = useStore(session, (state) => Math.min(state.place, loop.reel.length - 1));
  const here = momentOf(loop.reel, place);
  const from = (fromCs: number) => onChange({ fromCs, toCs: Math.max(time.toCs, fromCs + 1) });
  const to = (toCs: number) => onChange({ fromCs: Math.min(time.fromCs, toCs - 1), toCs });
  const seconds = { max: Math.max(totalCs, time.toCs) / 100, decimals: 2, suffix: ' s' };
  return (
    <div className={classes.moments}>
      <Button size="compact-sm" variant="default" onClick={() => from(here.beginsCs)}>
        From here
      </Button>
      <NumberEntry
        label="Seen from"
        value={time.fromCs / 100}
        {...seconds}
        onEnter={(s) => from(Math.round(s * 100))}
      />
      <Button size="compact-sm" variant="default" onClick={() => to(here.endsCs)}>
        Until here
      </Button>
      <NumberEntry
        label="Seen until"
        value={time.toCs / 100}
        min={0.01}
        {...seconds}
        onEnter={(s) => to(Math.round(s * 100))}
      />
    </div>
  );
}

import { SegmentedControl } from '@mantine/core';
import type { JoinSettings, LoopReel } from '@muted-pond/core/loop';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { SliderRow } from '../../ui/SliderRow.js';
import { usePieceLoop } from '../../workspace/piece-loop.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { JOIN_LABELS } from './join-labels.js';
import classes from './loop.module.css';
import { setJoin } from './loop-edits.js';

/** A crossfade to begin with: short ones ghost less. */
const FIRST_CROSSFADE = 8;

/** How the end meets the start, and what that costs in frames. */
export function JoinSection() {
  const workspace = useWorkspace();
  const join = useStore(workspace.store, (state) => shownRecipe(state).loop.join);
  const { loop } = usePieceLoop();
  const longest = loop?.crossfade.longest ?? 0;
  const set = (next: JoinSettings) => setJoin(workspace, next);
  const choose = (kind: JoinSettings['kind']) =>
    set(kind === 'crossfade' ? { kind, frames: Math.max(1, Math.min(FIRST_CROSSFADE, longest)) } : { kind });
  return (
    <BankSection title="Joined by">
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Joined by"
        value={join.kind}
        onChange={(value) => choose(value as JoinSettings['kind'])}
        data={Object.entries(JOIN_LABELS).map(([value, label]) => ({
          value,
          label,
          disabled: value === 'crossfade' && longest === 0 && join.kind !== 'crossfade',
        }))}
      />
      {join.kind === 'crossfade' && longest > 0 && (
        <SliderRow
          label="Over"
          unit=" frames"
          value={Math.min(join.frames, longest)}
          min={1}
          max={longest}
          onChange={(frames) => set({ kind: 'crossfade', frames })}
        />
      )}
      {loop && (
        <JoinCost join={join} loop={loop} onShorten={(frames) => set({ kind: 'crossfade', frames })} />
      )}
    </BankSection>
  );
}

interface JoinCostProps {
  readonly join: JoinSettings;
  readonly loop: LoopReel;
  readonly onShorten: (frames: number) => void;
}

function JoinCost({ join, loop, onShorten }: JoinCostProps) {
  const { store } = useWorkspace();
  const reverse = useStore(store, (state) => shownRecipe(state).loop.reverse);
  const { used, longest } = loop.crossfade;
  const length = `${loop.round} frames, ${formatSeconds(reelCentiseconds(loop.reel.slice(0, loop.round)) / 100)}`;
  const where = reverse ? 'after the end' : 'before the start';
  switch (join.kind) {
    case 'cut':
      return (
        <p className={classes.note}>
          {length}. {longest === 0 && `No frame lies ${where} to crossfade with.`}
        </p>
      );
    case 'there-and-back':
      return (
        <p className={classes.note}>
          {length}: {loop.round - loop.items.length} more for the way back.
        </p>
      );
    case 'crossfade':
      if (used < join.frames) {
        return (
          <p className={classes.warning}>
            {join.frames} frames were asked for; {used} lie {where}.{' '}
            {longest > 0 ? (
              <button type="button" onClick={() => onShorten(longest)}>
                Make it {longest}
              </button>
            ) : (
              'Move the start on, or join by a cut.'
            )}
          </p>
        );
      }
      return (
        <p className={classes.note}>
          {length}: none added. The last {used} melt into those {where}; {longest} could.
        </p>
      );
  }
}

import { SegmentedControl } from '@mantine/core';
import {
  JOINS,
  type JoinKind,
  type JoinSettings,
  joinOf,
  type LoopReel,
  longestInScene,
  mixedWithOtherScenes,
} from '@muted-pond/core/loop';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { chooseWoven, setJoin } from '../../piece/loop-edits.js';
import { pieceLoop, usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { SliderRow } from '../../ui/SliderRow.js';
import { FlowNote } from './FlowNote.js';
import classes from './loop.module.css';
import { WovenSection } from './WovenSection.js';

/** How the end meets the start, and what that costs in frames. */
export function JoinSection() {
  const workspace = useWorkspace();
  const settings = useStore(workspace.store, (state) => shownRecipe(state).loop.join);
  const { loop } = usePieceLoop();
  const join = joinOf(settings);
  const cuts = useStore(workspace.seams, (state) => state.found?.cuts);
  const flowLength = useStore(workspace.seams, (state) => state.better?.flowLength ?? null);
  const take = useTake();
  const recipe = useStore(workspace.store, shownRecipe);
  const longest = useMemo(() => {
    if (!loop) return null;
    const loopBy = (join: JoinSettings) =>
      pieceLoop({ ...recipe, loop: { ...recipe.loop, join, edits: [] } }, take).loop ?? loop;
    return longestInScene(loop.longest, loopBy, cuts ?? []);
  }, [loop, recipe, take, cuts]);
  const longestOf = (kind: JoinKind) => longest?.[kind] ?? 0;
  const set = (next: JoinSettings) => setJoin(workspace, next);
  const choose = (kind: JoinKind) => {
    const { over, length, woven, isLed } = joinOf({ kind });
    if (woven) return chooseWoven(workspace);
    const usual = (isLed && flowLength) || (length?.usual ?? 1);
    set(over(Math.max(length?.min ?? 1, Math.min(usual, longestOf(kind)))));
  };
  const cannot = (kind: JoinKind) => joinOf({ kind }).length !== null && longestOf(kind) === 0;
  return (
    <BankSection title="Joined by">
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Joined by"
        classNames={{ label: classes.joinLabel }}
        value={settings.kind}
        onChange={(value) => choose(value as JoinKind)}
        data={JOINS.map(({ kind, label }) => ({
          value: kind,
          label,
          disabled: kind !== settings.kind && cannot(kind),
        }))}
      />
      {join.length && longestOf(settings.kind) > 0 && (
        <SliderRow
          label="Over"
          unit=" frames"
          value={Math.min(join.framesOf(settings), longestOf(settings.kind))}
          min={join.length.min}
          max={longestOf(settings.kind)}
          onChange={(frames) => set(join.over(frames))}
        />
      )}
      <WovenSection />
      <FlowNote />
      {loop && <JoinCost settings={settings} loop={loop} onShorten={(frames) => set(join.over(frames))} />}
    </BankSection>
  );
}

interface JoinCostProps {
  readonly settings: JoinSettings;
  readonly loop: LoopReel;
  readonly onShorten: (frames: number) => void;
}

function JoinCost({ settings, loop, onShorten }: JoinCostProps) {
  const { store, seams } = useWorkspace();
  const cuts = useStore(seams, (state) => state.found?.cuts);
  const reverse = useStore(store, (state) => shownRecipe(state).loop.reverse);
  const join = joinOf(settings);
  const wanted = join.framesOf(settings);
  const { melted: used, round, items } = loop;
  const longest = loop.longest[settings.kind];
  const where = reverse ? 'after the end' : 'before the start';
  if (used < wanted) {
    return (
      <p className={classes.warning}>
        {wanted} frames were asked for; {used} lie {join.room ?? where}.{' '}
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
  const foreign = mixedWithOtherScenes(loop, cuts ?? []);
  if (foreign > 0) {
    return (
      <p className={classes.warning}>
        {foreign} of the {used} mixed frames {foreign === 1 ? 'shows' : 'show'} another scene, which lies{' '}
        {where}.{' '}
        {used > foreign ? (
          <button type="button" onClick={() => onShorten(used - foreign)}>
            Make it {used - foreign}
          </button>
        ) : (
          'Move the start on, or join by a cut.'
        )}
      </p>
    );
  }
  const length = `${round} frames, ${formatSeconds(reelCentiseconds(loop.reel.slice(0, round)) / 100)}`;
  const lacking = JOINS.flatMap((other) =>
    !join.woven && other.length && loop.longest[other.kind] === 0 ? (other.lacking(where) ?? []) : [],
  );
  return (
    <p className={classes.note}>
      {length}
      {join.note({ used, longest, added: round - items.length, where })} {lacking.join(' ')}
    </p>
  );
}

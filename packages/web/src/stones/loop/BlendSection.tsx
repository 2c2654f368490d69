import { Button } from '@mantine/core';
import { refOf } from '@muted-pond/core/loop';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { useState } from 'react';
import { useStore } from 'zustand';
import { changeLoop } from '../../piece/loop-edits.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { blendAfterEach, chosenRefs } from '../../reel/reel-actions.js';
import { useReelSelection } from '../../reel/reel-selection.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatBytes } from '../../ui/format.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import classes from './loop.module.css';
import { useWeights } from './use-weights.js';

/** Mixtures between pictures, and what they weigh: measured on both files. */
export function BlendSection() {
  const workspace = useWorkspace();
  const recipe = useStore(workspace.store, shownRecipe);
  const { loop } = usePieceLoop();
  const chosen = useReelSelection((state) => state.chosen);
  const [count, setCount] = useState(4);
  const [delayCs, setDelayCs] = useState(6);
  const items = loop?.items ?? [];
  const refs = chosenRefs(items, chosen);
  const after = refs.length > 0 ? refs : items.filter((item) => !item.blend).map(refOf);
  const edits = [...recipe.loop.edits, ...blendAfterEach(after, count, delayCs)];
  const blended = { ...recipe, loop: { ...recipe.loop, edits } };
  const { bytes, weighing, weigh } = useWeights([recipe, blended]);
  const [before, mixed] = bytes;
  return (
    <BankSection title="Blend">
      <div className={classes.delay}>
        <NumberEntry
          label="Mixtures between two pictures"
          value={count}
          min={1}
          max={RECIPE_LIMITS.blends.max}
          onEnter={setCount}
        />
        <span>mixtures of</span>
        <NumberEntry
          label="Each mixture for, seconds"
          value={delayCs / 100}
          decimals={2}
          suffix=" s"
          min={0.02}
          max={10}
          onEnter={(seconds) => setDelayCs(Math.round(seconds * 100))}
        />
      </div>
      <div className={classes.buttons}>
        <Button size="compact-sm" variant="default" onClick={() => changeLoop(workspace, { edits })}>
          {refs.length > 0 ? 'After the chosen' : 'Between all'}
        </Button>
        <Button size="compact-sm" variant="default" loading={weighing} onClick={weigh}>
          What would it weigh?
        </Button>
      </div>
      {before !== null && mixed !== null && (
        <p className={classes.note} data-testid="blend-cost">
          {formatBytes(before)} without, <strong>{formatBytes(mixed)}</strong> with:{' '}
          {formatBytes(Math.abs(mixed - before))} {mixed >= before ? 'more' : 'less'}.
        </p>
      )}
    </BankSection>
  );
}

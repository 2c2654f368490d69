import { Switch } from '@mantine/core';
import type { StillSettings } from '@muted-pond/core/still';
import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { useTrialsView } from '../weigh/use-trials.js';
import classes from './still.module.css';

/** What makes held and moving parts meet though camera and light strayed. Both work in the finished file. */
export function HoldingSection() {
  const { store } = useWorkspace();
  const { kind } = useTake();
  const still = useStore(store, (state) => shownRecipe(state).still);
  const { current } = useTrialsView();
  const steady = current?.figures?.steady ?? null;
  const set = (part: Partial<StillSettings>) =>
    store.getState().change((recipe) => ({ ...recipe, still: { ...recipe.still, ...part } }));
  if (!still.plate || kind === 'stills') return null;
  return (
    <BankSection title="Holding still">
      <div className={classes.switch}>
        <Switch
          label="Steady"
          checked={still.steady}
          onChange={(event) => set({ steady: event.currentTarget.checked })}
        />
        {still.steady && steady && (
          <span>
            <strong>{steady.afterPx.toFixed(1)} px</strong> after, {steady.beforePx.toFixed(1)} before
          </span>
        )}
      </div>
      {still.steady && !steady && (
        <p className={classes.note}>
          Every frame is laid onto the plate when the file is made; Weigh makes it, and the figure stands here
          then.
        </p>
      )}
      {still.steady && steady && steady.untrusted > 0 && (
        <p className={classes.warning}>
          {steady.untrusted} {steady.untrusted === 1 ? 'frame' : 'frames'} could not be placed and stayed as{' '}
          {steady.untrusted === 1 ? 'it was' : 'they were'}: too dark, too flat, or all of it moves.
        </p>
      )}
      <div className={classes.switch}>
        <Switch
          label="Even light"
          checked={still.evenLight}
          onChange={(event) => set({ evenLight: event.currentTarget.checked })}
        />
      </div>
    </BankSection>
  );
}

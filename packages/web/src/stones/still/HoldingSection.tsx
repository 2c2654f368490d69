import { Progress, Switch } from '@mantine/core';
import type { HoldingFigures } from '@muted-pond/core/api';
import type { StillSettings } from '@muted-pond/core/still';
import { useStore } from 'zustand';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import classes from './still.module.css';
import { useHolding, useHoldingKeeper } from './use-holding.js';

/** A step in brightness below this is not seen, levels. */
const UNSEEN_STEP = 1;

/** What makes held and moving parts meet though camera and light strayed. */
export function HoldingSection() {
  const { store } = useWorkspace();
  const { kind } = useTake();
  const still = useStore(store, (state) => shownRecipe(state).still);
  useHoldingKeeper();
  const view = useHolding();
  const set = (part: Partial<StillSettings>) =>
    store.getState().change((recipe) => ({ ...recipe, still: { ...recipe.still, ...part } }));
  if (!still.plate || kind === 'stills') return null;
  const figures = view?.figures ?? null;
  return (
    <BankSection title="Holding still">
      <div className={classes.switch}>
        <Switch
          label="Steady"
          checked={still.steady}
          onChange={(event) => set({ steady: event.currentTarget.checked })}
        />
        {still.steady && figures?.steady && (
          <span data-testid="steady">
            <strong>{figures.steady.afterPx.toFixed(2)} px</strong> off, {figures.steady.beforePx.toFixed(2)}{' '}
            before
          </span>
        )}
      </div>
      {still.steady && figures?.steady && <Untrusted steady={figures.steady} />}
      <div className={classes.switch}>
        <Switch
          label="Even light"
          checked={still.evenLight}
          onChange={(event) => set({ evenLight: event.currentTarget.checked })}
        />
        {still.evenLight && figures?.light && (
          <span data-testid="light">
            <strong>{figures.light.after.toFixed(1)} levels</strong> off, {figures.light.before.toFixed(1)}{' '}
            before
          </span>
        )}
      </div>
      {still.evenLight &&
        figures?.light &&
        figures.light.after > Math.max(UNSEEN_STEP, figures.light.before) && (
          <p className={classes.warning}>
            The light around the ripples could not be matched: too little there is held. Leave even light off.
          </p>
        )}
      {view?.state === 'working' && (
        <Progress
          className={classes.working}
          size="sm"
          color="lily"
          value={view.done * 100}
          aria-label="Measuring how the frames lie"
        />
      )}
      {view?.state === 'failed' && <p className={classes.warning}>{view.problem}</p>}
    </BankSection>
  );
}

function Untrusted({ steady }: { steady: NonNullable<HoldingFigures['steady']> }) {
  const { untrusted, frames } = steady;
  if (untrusted === 0) return null;
  return (
    <p className={classes.warning}>
      {untrusted === frames
        ? 'No frame could be placed: the footage is too dark or too flat outside the ripples, or all of it moves. Nothing is steadied.'
        : `${untrusted} of ${frames} frames could not be placed and stay as they are: too dark, too flat, or all of it moves.`}
    </p>
  );
}

import { Switch } from '@mantine/core';
import { isSmoothGood, joinOf } from '@muted-pond/core/loop';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { changeLoop } from '../../piece/loop-edits.js';
import { pieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import classes from './loop.module.css';

/** Offered where the reel falls between frames of the footage: pictures are made there. */
export function SmoothRow() {
  const workspace = useWorkspace();
  const take = useTake();
  const recipe = useStore(workspace.store, shownRecipe);
  const figures = useStore(workspace.seams, (state) => state.better?.smoothness ?? null);
  const { smooth, join } = recipe.loop;
  const reel = useMemo(() => {
    const { loop } = pieceLoop({ ...recipe, loop: { ...recipe.loop, smooth: true } }, take);
    return loop ? loop.reel.slice(0, loop.round) : [];
  }, [recipe, take]);
  const made = reel.filter(({ toward }) => toward !== undefined).length;
  if (made === 0) {
    return smooth && joinOf(join).woven?.(join) ? (
      <p className={classes.note}>
        What is woven shows the footage’s own frames; nothing is made between them.
      </p>
    ) : null;
  }
  return (
    <div className={classes.smooth} data-testid="smooth">
      <Switch
        size="sm"
        label="Smooth"
        description={
          smooth
            ? `${made} of ${reel.length} pictures are made between two of the footage`
            : `The reel falls between the footage’s frames; ${made} of ${reel.length} pictures would be made there`
        }
        checked={smooth}
        onChange={({ currentTarget }) => changeLoop(workspace, { smooth: currentTarget.checked })}
      />
      {figures && (
        <p className={isSmoothGood(figures) ? classes.note : classes.warning}>
          {isSmoothGood(figures)
            ? 'It follows what moves here: '
            : 'What moves here cannot be followed well; expect soft or doubled edges: '}
          frames left out and made again come back at {figures.led.toFixed(1)} dB, plain mixtures at{' '}
          {figures.mixed.toFixed(1)} dB.
        </p>
      )}
    </div>
  );
}

import { Button } from '@mantine/core';
import { stagePlanKey, weaveAdviceKey } from '@muted-pond/core/derived';
import { isUnnoticed, joinOf } from '@muted-pond/core/loop';
import { FAIR_WEAVE, GOOD_WEAVE } from '@muted-pond/core/weave';
import { useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import { takeWoven } from '../../piece/loop-edits.js';
import { useTake } from '../../piece/piece-take.js';
import { useKeptRecipeBy } from '../../piece/use-recipe-by.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { SeamPlace } from '../../seam/seam-work.js';
import { tellProblem } from '../../ui/notify.js';
import { useWeaveAdviser } from '../../weave/use-weave-adviser.js';
import classes from './loop.module.css';

/** Debounce before advice to weave is requested, ms. */
const REST_MS = 900;

/** What flows is another way; a weave is advised beside it. */
const isGood = ({ score, isMeasured, join }: SeamPlace) =>
  isMeasured && isUnnoticed(score) && !joinOf(join).isLed;

/** Where no cut is good: whether the footage around the span can be woven, and how well. */
export function WeaveAdviceNote() {
  const workspace = useWorkspace();
  const { seams } = workspace;
  const isGoodCut = useStore(seams, ({ better }) => better === null || better.candidates.some(isGood));
  const isMeasured = useStore(seams, ({ better }) => better?.candidates.every((place) => place.isMeasured));
  const take = useTake();
  const recipe = useKeptRecipeBy(stagePlanKey);
  const length = useStore(seams, (state) => state.length);
  const { view, look } = useWeaveAdviser();
  const isWoven = joinOf(recipe.loop.join).woven !== undefined;
  const isWanted = !isWoven && isMeasured === true && !isGoodCut;
  const key = useMemo(
    () => (isWanted ? weaveAdviceKey({ recipe, length, within: 'around' }, take) : null),
    [isWanted, recipe, length, take],
  );
  useEffect(() => {
    if (key === null) return;
    const timer = setTimeout(() => void look('around').catch(tellProblem), REST_MS);
    return () => clearTimeout(timer);
  }, [key, look]);
  // Advice about something else is none.
  if (!view || view.key !== key) return null;
  if (view.state === 'working') return <p className={classes.note}>Looking whether it can be woven…</p>;
  const { advice } = view;
  if (!advice || advice.energy >= FAIR_WEAVE || advice.moving === 0) return null;
  const percent = Math.round(100 * advice.moving);
  const isGoodWeave = advice.energy < GOOD_WEAVE;
  return (
    <div className={classes.advice} data-testid="weave-advice" data-good={isGoodWeave || undefined}>
      <span>
        {isGoodWeave ? 'It can be woven' : 'It can be woven, but parts will stand still'}: {percent} % moves
        in its own time, the joint is spread over {advice.spread.toFixed(1)} s, and scores{' '}
        <strong>{Math.round(advice.score)}</strong>.
      </span>
      <Button size="compact-sm" variant="light" onClick={() => takeWoven(workspace, advice)}>
        Weave it
      </Button>
    </div>
  );
}

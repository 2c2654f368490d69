import { Button, Progress } from '@mantine/core';
import { framesMissing, joinOf, WOVEN_LIMITS, type Woven } from '@muted-pond/core/loop';
import { useStore } from 'zustand';
import { setJoin, widenSpan } from '../../piece/loop-edits.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { tellProblem } from '../../ui/notify.js';
import { MovesSlider } from '../../weave/MovesSlider.js';
import { useWeaveAdviser } from '../../weave/use-weave-adviser.js';
import { useMappedWeave, useReelWeave, useWeaving } from '../../weave/use-weaving.js';
import { wovenWords } from '../../weave/woven-words.js';
import classes from './loop.module.css';
import { setLoopView, useLoopView } from './loop-view.js';

/** How parts of the picture go round in their own time: how much of it, over which length, and what was done. */
export function WovenSection() {
  const { store } = useWorkspace();
  const join = useStore(store, (state) => shownRecipe(state).loop.join);
  const woven = joinOf(join).woven?.(join);
  return woven ? <WovenSettings woven={woven} /> : null;
}

function WovenSettings({ woven }: { woven: Woven }) {
  const workspace = useWorkspace();
  const { times, frameCount } = useTake();
  const span = useStore(workspace.store, (state) => shownRecipe(state).span);
  const set = (part: Partial<Woven>) => setJoin(workspace, { ...woven, ...part });
  const missing = framesMissing(span, woven.frames);
  const perSecond = frameCount / times.duration;
  return (
    <>
      <MovesSlider woven={woven} onChange={(liveliness) => set({ liveliness })} />
      <div className={classes.row}>
        <span>One round, frames · {(woven.frames / perSecond).toFixed(2)} s</span>
        <NumberEntry
          label="Frames of a woven round"
          value={woven.frames}
          min={WOVEN_LIMITS.frames.min}
          max={WOVEN_LIMITS.frames.max}
          onEnter={(frames) => set({ frames })}
        />
        <BestLength onFound={(frames) => set({ frames })} />
      </div>
      <PlateRow woven={woven} onChoose={(plate) => set({ plate })} />
      {missing > 0 ? (
        <p className={classes.warning}>
          A woven round of {woven.frames} frames needs {missing} more than the span has.{' '}
          <button type="button" onClick={() => widenSpan(workspace, missing)}>
            Widen the span
          </button>{' '}
          or shorten the round; until then it is a plain cut.
        </p>
      ) : (
        <WhatWasDone woven={woven} onForget={() => set({ touches: [] })} />
      )}
    </>
  );
}

function BestLength({ onFound }: { onFound: (frames: number) => void }) {
  const { isLooking, look } = useWeaveAdviser();
  return (
    <Button
      size="compact-sm"
      variant="default"
      loading={isLooking}
      onClick={() =>
        void look('span')
          .then((advice) => advice && onFound(advice.join.frames))
          .catch(tellProblem)
      }
    >
      Find the best
    </Button>
  );
}

/** Which frame still parts show. */
function PlateRow({ woven, onChoose }: { woven: Woven; onChoose: (plate: number | null) => void }) {
  const { store, session } = useWorkspace();
  const { loop } = usePieceLoop();
  const held = useStore(store, (state) => shownRecipe(state).still.plate);
  const part = useReelWeave();
  const place = useStore(session, (state) => state.place);
  const shown = loop?.reel[Math.min(place, loop.round - 1)]?.source;
  if (held) return <p className={classes.note}>Still parts show the plate of Still, frame {held.frame}.</p>;
  const now = woven.plate ?? part?.weave.plate;
  return (
    <div className={classes.row}>
      <span>
        Still parts show frame {now ?? '…'}
        {woven.plate === null && ', found by itself'}
      </span>
      {woven.plate !== null && (
        <Button size="compact-sm" variant="default" onClick={() => onChoose(null)}>
          Let it be found
        </Button>
      )}
      {shown !== undefined && shown !== woven.plate && (
        <Button size="compact-sm" variant="default" onClick={() => onChoose(shown)}>
          Take {shown}
        </Button>
      )}
    </div>
  );
}

function WhatWasDone({ woven, onForget }: { woven: Woven; onForget: () => void }) {
  const view = useWeaving();
  const part = useReelWeave();
  const { look } = useLoopView();
  const isMapped = useMappedWeave() !== null;
  if (view?.state === 'failed') {
    return (
      <p className={classes.warning} role="alert">
        {view.problem}
      </p>
    );
  }
  const hands = woven.touches.length;
  return (
    <>
      {part && (
        <p className={classes.note} data-testid="woven" data-state={view?.state}>
          {wovenWords(part)}{' '}
          {look !== 'map' && isMapped && part.moving > 0 && (
            <button type="button" onClick={() => setLoopView({ look: 'map' })}>
              Show where
            </button>
          )}
          {hands > 0 && (
            <button type="button" onClick={onForget}>
              Forget what {hands === 1 ? 'one touch' : `${hands} touches`} decided
            </button>
          )}
        </p>
      )}
      {view?.state === 'working' && (
        <div className={classes.working}>
          <Progress
            size="sm"
            value={100 * view.done}
            animated
            aria-label="Weaving"
            transitionDuration={200}
          />
          <span>{part ? 'Weaving anew; the last one is shown.' : 'Weaving…'}</span>
        </div>
      )}
    </>
  );
}

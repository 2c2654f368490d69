import { Button } from '@mantine/core';
import type { ReelEdit } from '@muted-pond/core/loop';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useState } from 'react';
import { useStore } from 'zustand';
import { changeLoop } from '../../piece/loop-edits.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { addEdit, chosenRefs, moveChosen, refsAt, removeFrames } from '../../reel/reel-actions.js';
import { allButNth, choosePlaces, everyNth, keyOf, useReelSelection } from '../../reel/reel-selection.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatSeconds, ordinal } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { WhyButton } from '../../ui/WhyButton.js';
import { BlendSection } from './BlendSection.js';
import classes from './loop.module.css';

/** Work on single frames of the reel. */
export function FramesBank() {
  const { loop } = usePieceLoop();
  const { kind } = useTake();
  if (!loop) return <p className={classes.note}>There is no reel. Undo brings the last one back.</p>;
  return (
    <>
      <ChosenSection />
      <ThinSection />
      {kind === 'stills' && <BlendSection />}
      <RepeatSection />
      <EditsSection />
    </>
  );
}

function useChosen() {
  const { loop } = usePieceLoop();
  const chosen = useReelSelection((state) => state.chosen);
  const items = loop?.items ?? [];
  return { items, chosen, picked: items.filter((item) => chosen.has(keyOf(item))) };
}

function ChosenSection() {
  const workspace = useWorkspace();
  const { items, chosen, picked } = useChosen();
  const [n, setN] = useState(2);
  const refs = chosenRefs(items, chosen);
  const none = picked.length === 0;
  const [first] = picked;
  const delayCs = first?.delayCs ?? 0;
  const setDelay = (cs: number) =>
    addEdit(workspace, { kind: 'delay', frames: refs, delayCs: Math.round(cs) });
  return (
    <BankSection title={none ? 'No frame chosen' : `${picked.length} of ${items.length} chosen`}>
      <div className={classes.buttons}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() =>
            choosePlaces(
              items,
              items.map((_, i) => i),
            )
          }
        >
          All
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => choosePlaces(items, everyNth(items, chosen, n))}
        >
          Every {ordinal(n)}
        </Button>
        <NumberEntry label="Choose every so many" value={n} min={2} max={100} onEnter={setN} />
      </div>
      {none ? (
        <p className={classes.note}>
          Click a frame below; <Key>Shift</Key> takes all up to it, <Key>Ctrl</Key> adds one. Drag to reorder.
        </p>
      ) : (
        <>
          <div className={classes.buttons}>
            <Button size="compact-sm" variant="default" onClick={() => removeFrames(workspace, refs, false)}>
              Remove
            </Button>
            <Button
              size="compact-sm"
              variant="default"
              onClick={() => addEdit(workspace, { kind: 'duplicate', frames: refs })}
            >
              Duplicate
            </Button>
            <WhyButton
              size="compact-sm"
              variant="default"
              off={
                picked.length < 2 ? 'Choose two frames at least: one alone has no order to turn round.' : null
              }
              onClick={() => addEdit(workspace, { kind: 'reverse', frames: refs })}
            >
              Reverse
            </WhyButton>
          </div>
          <div className={classes.buttons}>
            <Button size="compact-sm" variant="default" onClick={() => moveChosen(workspace, chosen, -1)}>
              Earlier
            </Button>
            <Button size="compact-sm" variant="default" onClick={() => moveChosen(workspace, chosen, 1)}>
              Later
            </Button>
          </div>
          <div className={classes.delay}>
            <span>{picked.length === 1 ? 'Hold it for' : 'Each for'}</span>
            <NumberEntry
              label="Show each for, seconds"
              value={delayCs / 100}
              decimals={2}
              suffix=" s"
              min={RECIPE_LIMITS.delayCs.min / 100}
              max={RECIPE_LIMITS.delayCs.max / 100}
              onEnter={(seconds) => setDelay(seconds * 100)}
            />
            <span>or</span>
            <NumberEntry
              label="Show each for, frames a second"
              value={100 / delayCs}
              decimals={2}
              suffix=" fps"
              min={100 / RECIPE_LIMITS.delayCs.max}
              max={100 / RECIPE_LIMITS.delayCs.min}
              onEnter={(rate) => setDelay(100 / rate)}
            />
          </div>
        </>
      )}
    </BankSection>
  );
}

/** Frames that can go: all but every n-th, doubles, black ones. */
function ThinSection() {
  const workspace = useWorkspace();
  const { items } = useChosen();
  const [n, setN] = useState(2);
  const known = useStore(workspace.seams, (state) => (state.stale ? null : state.found));
  const found = [
    { name: 'nearly the same as before', places: known?.doubles ?? [], keepTime: true },
    { name: 'black', places: known?.blacks ?? [], keepTime: false },
  ].filter(({ places }) => places.length > 0 && places.every((place) => place < items.length));
  return (
    <BankSection title="Fewer frames">
      <div className={classes.row}>
        <span>Keep every {ordinal(n)}, and the length</span>
        <NumberEntry label="Keep every so many" value={n} min={2} max={100} onEnter={setN} />
        <WhyButton
          size="compact-sm"
          variant="default"
          off={
            items.length <= n
              ? `The reel has ${items.length} frames, too few to keep every ${ordinal(n)}.`
              : null
          }
          onClick={() => removeFrames(workspace, refsAt(items, allButNth(items, n)), true)}
        >
          Thin
        </WhyButton>
      </div>
      {found.map(({ name, places, keepTime }) => (
        <div className={classes.row} key={name}>
          <span>
            <strong>{places.length}</strong> {name}
          </span>
          <Button size="compact-sm" variant="default" onClick={() => choosePlaces(items, places)}>
            Show
          </Button>
          <WhyButton
            size="compact-sm"
            variant="default"
            off={places.length >= items.length ? 'Nothing would be left of the reel.' : null}
            onClick={() => removeFrames(workspace, refsAt(items, places), keepTime)}
          >
            Remove
          </WhyButton>
        </div>
      ))}
      {known && found.length === 0 && <p className={classes.note}>No doubles, no black frames.</p>}
    </BankSection>
  );
}

function RepeatSection() {
  const workspace = useWorkspace();
  const repeats = useStore(workspace.store, (state) => shownRecipe(state).loop.repeats);
  const { loop } = usePieceLoop();
  const round = loop ? reelCentiseconds(loop.reel.slice(0, loop.round)) : 0;
  return (
    <BankSection title="For places that play video once">
      <div className={classes.row}>
        <span>The whole in the file</span>
        <NumberEntry
          label="How often the whole stands in the file"
          value={repeats}
          min={1}
          max={RECIPE_LIMITS.repeats.max}
          suffix=" ×"
          onEnter={(next) => changeLoop(workspace, { repeats: next })}
        />
        <span>{formatSeconds((round * repeats) / 100)}</span>
      </div>
    </BankSection>
  );
}

const EDIT_WORDS: Record<ReelEdit['kind'], string> = {
  remove: 'removed',
  delay: 'held or retimed',
  move: 'moved',
  reverse: 'reversed',
  duplicate: 'duplicated',
  blend: 'blended',
};

/** What was done by hand, and what of it finds no frame any more. */
function EditsSection() {
  const workspace = useWorkspace();
  const { edits } = useStore(workspace.store, (state) => shownRecipe(state).loop);
  const { loop } = usePieceLoop();
  if (edits.length === 0 || !loop) return null;
  const lost = loop.lost.map((place) => edits[place]);
  return (
    <BankSection title="Done by hand">
      <div className={classes.row}>
        <span>
          {edits.length} {edits.length === 1 ? 'change' : 'changes'}, kept when the span, the rate or the
          speed changes
        </span>
        <Button size="compact-sm" variant="default" onClick={() => changeLoop(workspace, { edits: [] })}>
          Drop all
        </Button>
      </div>
      {lost.length > 0 && (
        <div className={classes.warning}>
          {lost.length === 1 ? 'One finds' : `${lost.length} find`} no frame in this span:
          <ul>
            {lost.map((edit, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: edits have no names of their own
              <li key={i}>
                {EDIT_WORDS[edit.kind]}: frame {framesOf(edit).join(', ')}
              </li>
            ))}
          </ul>
          <button
            type="button"
            onClick={() =>
              changeLoop(workspace, { edits: edits.filter((_, place) => !loop.lost.includes(place)) })
            }
          >
            Forget {lost.length === 1 ? 'it' : 'them'}
          </button>
        </div>
      )}
    </BankSection>
  );
}

/** The first few source frames an edit names. */
function framesOf(edit: ReelEdit): string[] {
  const refs = edit.kind === 'blend' ? [edit.after] : edit.frames;
  const named = refs.slice(0, 6).map(([source]) => String(source));
  return refs.length > 6 ? [...named, '…'] : named;
}

import { ActionIcon, Menu, TextInput } from '@mantine/core';
import { UserError } from '@muted-pond/core/errors';
import { proposedMasks, type Ripple, type StillSettings } from '@muted-pond/core/still';
import {
  IconArrowDown,
  IconArrowUp,
  IconContrast,
  IconDots,
  IconEye,
  IconEyeOff,
  IconTrash,
} from '@tabler/icons-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { fetchMotion } from '../../api/layers.js';
import { keepMask } from '../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../paint/mask-size.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { tellProblem } from '../../ui/notify.js';
import { SliderRow } from '../../ui/SliderRow.js';
import { WhyButton } from '../../ui/WhyButton.js';
import { RippleLoop } from './RippleLoop.js';
import classes from './still.module.css';
import { changeRipple, dropRipple, moveRipple, withProposal, withRounds } from './still-edits.js';
import { setStillView, useStillView } from './still-view.js';
import { useStillPreview } from './use-preview.js';

/** Shares of the picture below and above which nothing, or everything, moves. */
const NOTHING = 0.0005;
const EVERYTHING = 0.995;

/** The regions that move. */
export function RipplesSection() {
  const { store } = useWorkspace();
  const still = useStore(store, (state) => shownRecipe(state).still);
  const { active } = useStillView();
  const set = (next: StillSettings) => store.getState().change((recipe) => ({ ...recipe, still: next }));
  return (
    <BankSection title="Ripples">
      {still.plate && <Told />}
      <ul className={classes.ripples} aria-label="Ripples">
        {still.ripples.map((ripple) => (
          <li key={ripple.id} data-active={ripple.id === active || undefined}>
            <RippleCard ripple={ripple} still={still} isActive={ripple.id === active} set={set} />
          </li>
        ))}
      </ul>
      <div className={classes.buttons}>
        <Propose still={still} set={set} />
        <WhyButton
          variant="default"
          off={active === null ? 'The next stroke begins a ripple of its own already.' : null}
          title="The next stroke begins a ripple of its own"
          onClick={() => setStillView({ active: null })}
        >
          Add
        </WhyButton>
      </div>
      {still.ripples.length > 0 && <LoopEach />}
      {active === null && still.ripples.length > 0 && (
        <p className={classes.note}>The next stroke begins a new ripple.</p>
      )}
    </BankSection>
  );
}

/** Says so when nothing moves, or everything. */
function Told() {
  const { share } = useStillPreview(null);
  if (share === null) return null;
  if (share < NOTHING)
    return <p className={classes.warning}>Nothing moves: this is a still picture. Stir somewhere.</p>;
  if (share > EVERYTHING)
    return <p className={classes.warning}>Everything moves: nothing is held. Calm somewhere.</p>;
  return <p className={classes.note}>{Math.max(1, Math.round(share * 100))} % of the picture moves.</p>;
}

interface RippleCardProps {
  readonly ripple: Ripple;
  readonly still: StillSettings;
  readonly isActive: boolean;
  readonly set: (still: StillSettings) => void;
}

function RippleCard({ ripple, still, isActive, set }: RippleCardProps) {
  const { id, name, shown, invert, feather, grow } = ripple;
  const change = (part: Partial<Ripple>) => set(changeRipple(still, id, part));
  return (
    <>
      <div className={classes.rippleHead}>
        <TextInput
          variant="unstyled"
          size="xs"
          aria-label="Name of the ripple"
          key={name}
          defaultValue={name}
          onFocus={() => setStillView({ active: id })}
          onBlur={(event) => {
            const typed = event.currentTarget.value.trim();
            if (typed && typed !== name) change({ name: typed.slice(0, 80) });
          }}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <button
          type="button"
          className={classes.choose}
          aria-pressed={isActive}
          onClick={() => setStillView({ active: id })}
        >
          {isActive ? 'painted' : 'paint on it'}
        </button>
        <ActionIcon
          variant="subtle"
          color="deep"
          size="sm"
          aria-label={shown ? `Hide ${name}` : `Show ${name}`}
          onClick={() => change({ shown: !shown })}
        >
          {shown ? <IconEye size={16} /> : <IconEyeOff size={16} />}
        </ActionIcon>
        <Menu position="bottom-end" withinPortal>
          <Menu.Target>
            <ActionIcon variant="subtle" color="deep" size="sm" aria-label={`More for ${name}`}>
              <IconDots size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item leftSection={<IconContrast size={15} />} onClick={() => change({ invert: !invert })}>
              {invert ? 'As painted' : 'Invert'}
            </Menu.Item>
            <Menu.Item onClick={() => change({ mask: null, outlines: [] })}>Clear the paint</Menu.Item>
            <Menu.Item leftSection={<IconArrowUp size={15} />} onClick={() => set(moveRipple(still, id, -1))}>
              Up
            </Menu.Item>
            <Menu.Item
              leftSection={<IconArrowDown size={15} />}
              onClick={() => set(moveRipple(still, id, 1))}
            >
              Down
            </Menu.Item>
            <Menu.Item
              color="koi"
              leftSection={<IconTrash size={15} />}
              onClick={() => set(dropRipple(still, id))}
            >
              Delete
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      {isActive && (
        <>
          <SliderRow
            label="Feather"
            unit=" px"
            value={feather}
            min={0}
            max={80}
            widest={[0, 300]}
            onChange={(next) => change({ feather: next })}
          />
          <SliderRow
            label="Grow"
            unit=" px"
            value={grow}
            min={-40}
            max={40}
            widest={[-200, 200]}
            onChange={(next) => change({ grow: next })}
          />
          <RippleLoop ripple={ripple} change={change} />
        </>
      )}
    </>
  );
}

/** First ripples from what moves in the span. */
function Propose({ still, set }: { still: StillSettings; set: (still: StillSettings) => void }) {
  const { store } = useWorkspace();
  const take = useTake();
  const [looking, setLooking] = useState(false);
  const { footage } = take;
  const propose = async () => {
    if (!footage) return;
    setLooking(true);
    try {
      const { span } = store.getState().recipe;
      const motion = await fetchMotion(footage.id, span);
      const masks = proposedMasks(motion, sizeOfMasks(take.size));
      if (masks.length === 0)
        throw new UserError(
          'nothing_moves',
          'Nothing in this span moves enough to propose it. Paint it yourself.',
        );
      const hashes: string[] = [];
      for (const mask of masks) hashes.push(await keepMask(mask, 'The proposal'));
      const next = withProposal(still, hashes, Math.floor((span.start + span.end) / 2));
      set(next);
      setStillView({ active: next.ripples[0].id });
    } catch (error) {
      tellProblem(error);
    } finally {
      setLooking(false);
    }
  };
  return (
    <WhyButton
      color="deep"
      flex={1}
      loading={looking}
      off={footage ? null : 'Only footage moves: pictures have nothing to propose. Paint instead.'}
      onClick={() => void propose()}
    >
      Propose from motion
    </WhyButton>
  );
}

/** Looks for a loop of its own for every ripple, all within one length. */
function LoopEach() {
  const { store, seams } = useWorkspace();
  const { frameCount, footage } = useTake();
  const findRounds = useStore(seams, (state) => state.findRounds);
  const [looking, setLooking] = useState(false);
  const find = async () => {
    if (!findRounds) return;
    setLooking(true);
    try {
      const found = await findRounds();
      if (!found) {
        const { min, max } = seams.getState().length;
        throw new UserError(
          'nothing_moves',
          `No common length of ${min} to ${max} s was found for these ripples. Allow other lengths in Loop, or draw the ripples tighter.`,
        );
      }
      store.getState().change((recipe) => withRounds(recipe, found, frameCount));
    } catch (error) {
      tellProblem(error);
    } finally {
      setLooking(false);
    }
  };
  if (!footage) return null;
  return (
    <WhyButton
      fullWidth
      mt={8}
      variant="default"
      loading={looking}
      off={findRounds ? null : 'The footage is still being looked through; it will be ready in a moment.'}
      title="Finds the stretch in which each ripple meets itself, and a length of the reel that fits them all"
      onClick={() => void find()}
    >
      Find a loop for each
    </WhyButton>
  );
}

import { Button, Progress, SegmentedControl } from '@mantine/core';
import type { FollowView } from '@muted-pond/core/api';
import {
  couldBeUndone,
  VEIL_EFFECTS,
  VEIL_LIMITS,
  type Veil,
  type VeilEffect,
  withoutKey,
} from '@muted-pond/core/dress';
import { useStore } from 'zustand';
import { useTake } from '../../../piece/piece-take.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { IdleVeils } from '../../../stone/IdleVeils.js';
import { BankSection } from '../../../ui/Bank.js';
import { NumberEntry } from '../../../ui/NumberEntry.js';
import { SliderRow } from '../../../ui/SliderRow.js';
import { Colour } from '../Colour.js';
import classes from '../dress.module.css';
import { addEntry, changeEntry } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import { EntryList } from '../EntryList.js';
import { LiveSlider } from '../LiveSlider.js';
import { useDressEdits, useDressPart } from '../use-dress.js';
import { useFollow } from './use-follow.js';
import { middleOf, newVeil } from './veil-edits.js';
import { useShownPart } from './veil-ground-place.js';

const EFFECT_NAMES: Record<VeilEffect, string> = { blocks: 'Blocks', blur: 'Blur', plain: 'Plain' };

/** What must not be recognised. */
export function VeilsBank() {
  const { change } = useDressEdits();
  const veils = useDressPart('veils');
  const { session } = useWorkspace();
  const { chosen: chosenId, paints } = useDressView();
  const chosen = veils.find((one) => one.id === chosenId);
  const part = useShownPart();
  const take = useTake();
  const add = (shape: 'rectangle' | 'ellipse') => {
    const id = crypto.randomUUID();
    const { playhead } = session.getState();
    change((recipe) =>
      addEntry(recipe, 'veils', newVeil(id, shape, middleOf(part, take.size), playhead, null)),
    );
    setDressView({ chosen: id, paints: false });
  };
  return (
    <>
      <BankSection title="Veils">
        {veils.length === 0 && (
          <p className={classes.note}>
            A veil hides a face, a name or a number plate in every frame it lies on, the held one too. Stop
            where it is seen well, lay it there, and let it follow.
          </p>
        )}
        {veils.length > 0 && (
          <EntryList
            list="veils"
            label="Veils, the highest first"
            names={Object.fromEntries(veils.map(({ id, name }) => [id, name]))}
          />
        )}
        <IdleVeils />
        <div className={classes.pair}>
          <Button size="compact-sm" variant="default" onClick={() => add('rectangle')}>
            A rectangle
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => add('ellipse')}>
            An ellipse
          </Button>
          <Button
            size="compact-sm"
            variant={paints && !chosen ? 'filled' : 'default'}
            onClick={() => setDressView({ paints: true, chosen: null })}
          >
            Paint one
          </Button>
        </div>
      </BankSection>
      {paints && (!chosen || chosen.shape === 'painted') && <BrushSection />}
      {chosen && <VeilSection key={chosen.id} veil={chosen} />}
    </>
  );
}

function BrushSection() {
  const { brush } = useDressView();
  return (
    <BankSection title="Brush">
      <SliderRow
        label="Size"
        unit=" px"
        value={brush.size}
        min={4}
        max={400}
        onChange={(size) => setDressView({ brush: { ...brush, size } })}
      />
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="What the brush does"
        value={brush.way}
        onChange={(way) => setDressView({ brush: { ...brush, way: way as 'stir' | 'calm' } })}
        data={[
          { value: 'stir', label: 'Hides' },
          { value: 'calm', label: 'Shows again' },
        ]}
      />
    </BankSection>
  );
}

function VeilSection({ veil }: { veil: Veil }) {
  const { change } = useDressEdits();
  const { id, effect } = veil;
  const set = (part: Partial<Veil>) => change((recipe) => changeEntry(recipe, 'veils', id, part));
  return (
    <>
      <BankSection title="How it hides">
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="How it hides"
          value={effect}
          onChange={(value) => set({ effect: value as VeilEffect })}
          data={VEIL_EFFECTS.map((value) => ({ value, label: EFFECT_NAMES[value] }))}
        />
        {effect === 'plain' ? (
          <Colour label="Colour of the veil" value={veil.colour} onChange={(colour) => set({ colour })} />
        ) : (
          <LiveSlider
            label="Strength"
            unit=" %"
            value={() => veil.strength}
            bounds={VEIL_LIMITS.strength}
            hint="Against the veil’s own size"
            edit={(recipe, strength) => changeEntry(recipe, 'veils', id, { strength })}
          />
        )}
        {veil.shape !== 'painted' && (
          <LiveSlider
            label="Soft edge"
            unit=" %"
            value={() => veil.feather}
            bounds={VEIL_LIMITS.feather}
            hint="Outside the veil: inside it, nothing is seen"
            edit={(recipe, feather) => changeEntry(recipe, 'veils', id, { feather })}
          />
        )}
        {couldBeUndone(veil) && (
          <p className={classes.warning} role="status">
            So fine, letters and faces can be made out or worked out again. Make it stronger, or plain.
          </p>
        )}
        {veil.shape === 'painted' && (
          <Button size="compact-sm" variant="default" onClick={() => setDressView({ paints: true })}>
            Paint on it
          </Button>
        )}
      </BankSection>
      <FollowSection veil={veil} />
      <SpanSection veil={veil} />
    </>
  );
}

function FollowSection({ veil }: { veil: Veil }) {
  const { session } = useWorkspace();
  const { change } = useDressEdits();
  const take = useTake();
  const follow = useFollow();
  const playhead = useStore(session, (state) => state.playhead);
  const view = follow.view?.veil === veil.id ? follow.view : null;
  const key = veil.keys.find(({ frame }) => frame === playhead);
  const { keys } = veil;
  return (
    <BankSection title="It follows">
      {view?.state === 'working' ? (
        <div className={classes.following} role="status">
          <span>following {view.way}</span>
          <Progress size="sm" color="lily" value={view.done * 100} aria-label="Following" />
          <Button size="compact-sm" variant="default" onClick={follow.stop}>
            Stop
          </Button>
        </div>
      ) : (
        take.kind !== 'stills' && (
          <div className={classes.pair}>
            <Button
              size="compact-sm"
              variant="default"
              onClick={() => follow.begin(veil.id, playhead, 'backwards')}
            >
              ← Follow back
            </Button>
            <Button
              size="compact-sm"
              variant="filled"
              onClick={() => follow.begin(veil.id, playhead, 'forwards')}
            >
              Follow on →
            </Button>
          </div>
        )
      )}
      {view?.state === 'failed' && (
        <p className={classes.warning} role="alert">
          {view.problem}
        </p>
      )}
      {view?.state === 'done' && <Outcome view={view} />}
      <p className={classes.note}>
        {keys.length === 1 ? '1 place set' : `${keys.length} places set`}
        {key && keys.length > 1 && (
          <>
            {' · '}
            <button
              type="button"
              onClick={() =>
                change((recipe) =>
                  changeEntry(recipe, 'veils', veil.id, { keys: withoutKey(veil.keys, playhead) }),
                )
              }
            >
              take this frame’s away
            </button>
          </>
        )}
        {keys.length > 1 && (
          <>
            {' · '}
            <button
              type="button"
              onClick={() =>
                change((recipe) =>
                  changeEntry(recipe, 'veils', veil.id, { keys: withoutFollowing(veil, playhead) }),
                )
              }
            >
              keep only hand-set ones
            </button>
          </>
        )}
      </p>
    </BankSection>
  );
}

function withoutFollowing(veil: Veil, playhead: number): Veil['keys'] {
  const hands = veil.keys.filter(({ by }) => by === 'hand');
  if (hands.length > 0) return hands;
  const [first] = veil.keys;
  return [veil.keys.find(({ frame }) => frame === playhead) ?? first];
}

function Outcome({ view }: { view: FollowView }) {
  const { session } = useWorkspace();
  const { lostAt, handSetAt, confidence, way } = view;
  const sure = confidence.reduce((sum, one) => sum + one, 0) / Math.max(1, confidence.length);
  const goesOn = lostAt ?? handSetAt;
  return (
    <p className={classes.note} role="status" data-testid="followed">
      {outcomeWords(view)}, {Math.round(sure * 100)} % sure.{' '}
      {goesOn !== null && (
        <button
          type="button"
          onClick={() => {
            session.getState().setPlaying(false);
            session.getState().seek(goesOn);
          }}
        >
          {lostAt === null
            ? `Go there, and follow ${way === 'forwards' ? 'on' : 'back'} from it`
            : 'Go there, set it right, and follow on'}
        </button>
      )}
    </p>
  );
}

export function outcomeWords({ lostAt, handSetAt, way }: FollowView): string {
  if (lostAt !== null) return `Lost at frame ${lostAt}`;
  if (handSetAt !== null) return `Followed to the place set by hand at frame ${handSetAt}`;
  return way === 'forwards' ? 'Followed to the end' : 'Followed to the beginning';
}

function SpanSection({ veil }: { veil: Veil }) {
  const { session } = useWorkspace();
  const { change } = useDressEdits();
  const take = useTake();
  const playhead = useStore(session, (state) => state.playhead);
  const all = { start: 0, end: take.frameCount };
  const span = veil.span ?? all;
  const set = (next: { start: number; end: number }) => {
    const isAll = next.start <= 0 && next.end >= take.frameCount;
    change((recipe) => changeEntry(recipe, 'veils', veil.id, { span: isAll ? null : next }));
  };
  const from = (start: number) => set({ start, end: Math.max(span.end, start + 1) });
  const until = (last: number) => set({ start: Math.min(span.start, last), end: last + 1 });
  return (
    <BankSection title="On which frames">
      <div className={classes.moments}>
        <Button size="compact-sm" variant="default" onClick={() => from(playhead)}>
          From here
        </Button>
        <NumberEntry
          label="First frame it lies on"
          value={span.start}
          max={take.frameCount - 1}
          onEnter={from}
        />
        <Button size="compact-sm" variant="default" onClick={() => until(playhead)}>
          Until here
        </Button>
        <NumberEntry
          label="Last frame it lies on"
          value={span.end - 1}
          max={take.frameCount - 1}
          onEnter={until}
        />
      </div>
    </BankSection>
  );
}

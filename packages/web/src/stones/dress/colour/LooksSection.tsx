import { Button } from '@mantine/core';
import { COLOUR_LIMITS, LOOK_IDS, LOOKS, type LookId } from '@muted-pond/core/colour';
import { useEffect, useRef } from 'react';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { SavingsProgress } from '../../../trials/SavingsProgress.js';
import { useSavings } from '../../../trials/use-savings.js';
import { BankSection } from '../../../ui/Bank.js';
import { formatBytes, formatChange } from '../../../ui/format.js';
import classes from '../dress.module.css';
import { withColour } from '../dress-edits.js';
import { useDressView } from '../dress-view.js';
import { LiveSlider } from '../LiveSlider.js';
import { useDressEdits, useShown } from '../use-dress.js';
import { PartChoice } from './PartChoice.js';

/** Looks as small pictures of this loop, and what each weighs when that is asked for. */
export function LooksSection() {
  const { store } = useWorkspace();
  const { change } = useDressEdits();
  const isHeld = useShown(({ still }) => still.plate !== null);
  const look = useShown(({ dress }) => dress.colour.look);
  const table = useShown(({ dress }) => dress.colour.table);
  const part = useShown(({ dress }) => dress.colour.part);
  const pictures = useDressView((view) => view.looks);
  const savings = useSavings('looks');
  const weights = savings.view?.state === 'done' ? savings.view : null;
  const weightOf = (id: LookId) =>
    weights?.savings.find((saving) => saving.recipe.dress.colour.look?.id === id)?.bytes;
  const take = (id: LookId | null) =>
    change((recipe) =>
      withColour(recipe, {
        look: id && { id, strength: recipe.dress.colour.look?.strength || 100 },
      }),
    );
  return (
    <BankSection title="Looks">
      <fieldset className={classes.looks} aria-label="Looks">
        <LookCard
          name="As filmed"
          picture={pictures?.none ?? null}
          isChosen={look === null}
          weight={weights ? formatBytes(weights.bytes) : null}
          onTake={() => take(null)}
        />
        {LOOK_IDS.map((id) => {
          const bytes = weightOf(id);
          return (
            <LookCard
              key={id}
              name={LOOKS[id].name}
              about={LOOKS[id].about}
              picture={pictures?.[id] ?? null}
              isChosen={look?.id === id}
              weight={bytes && weights ? formatChange(bytes, weights.bytes) : null}
              onTake={() => take(look?.id === id ? null : id)}
            />
          );
        })}
      </fieldset>
      {look && (
        <LiveSlider
          label="Strength"
          unit=" %"
          value={({ dress }) => dress.colour.look?.strength ?? 0}
          bounds={COLOUR_LIMITS.strength}
          edit={(recipe, strength) => {
            const now = recipe.dress.colour.look;
            return withColour(recipe, { look: now && { ...now, strength } });
          }}
        />
      )}
      {isHeld && (look || table) && <PartChoice part={part} />}
      <SavingsProgress savings={savings} label="Trying what each look weighs" />
      {savings.view?.state !== 'working' && (
        <Button
          size="compact-sm"
          variant="default"
          fullWidth
          onClick={() => savings.begin(store.getState().recipe)}
        >
          {weights ? 'Measure again what each look weighs' : 'Try what each look saves'}
        </Button>
      )}
    </BankSection>
  );
}

interface LookCardProps {
  readonly name: string;
  readonly about?: string;
  readonly picture: ImageBitmap | null;
  readonly isChosen: boolean;
  /** Measured; null until it was. */
  readonly weight: string | null;
  readonly onTake: () => void;
}

function LookCard({ name, about, picture, isChosen, weight, onTake }: LookCardProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    // One that is closed has no width.
    if (!context || !picture || picture.width === 0) return;
    context.canvas.width = picture.width;
    context.canvas.height = picture.height;
    context.drawImage(picture, 0, 0);
  }, [picture]);
  return (
    <button type="button" className={classes.look} aria-pressed={isChosen} title={about} onClick={onTake}>
      <canvas ref={canvas} width={148} height={84} />
      <span className={classes.lookName}>
        {name}
        {weight && <small>{weight}</small>}
      </span>
    </button>
  );
}

import { Button, ColorInput } from '@mantine/core';
import type { TrialFigures } from '@muted-pond/core/api';
import { GIF_LIMITS, type GifSettings } from '@muted-pond/core/files';
import { COLOUR_PATTERN } from '@muted-pond/core/palette';
import { changeWeigh } from '@muted-pond/core/recipe';
import { IconX } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { setWeighView, useWeighView } from '../../trials/weigh-view.js';
import { BankSection } from '../../ui/Bank.js';
import { WhyButton } from '../../ui/WhyButton.js';
import { chooseColour, releaseColour } from './chosen-edits.js';
import classes from './weigh.module.css';

/**
 * The file's colours, the commonest first: pointed at they are shown on the stage; they can be kept or
 * dropped.
 */
export function PaletteSection({ figures }: { figures: TrialFigures }) {
  const { store } = useWorkspace();
  const gif = useStore(store, (state) => state.recipe.weigh.gif);
  const pointed = useWeighView((view) => view.pointed);
  const [chosen, setChosen] = useState<string | null>(null);
  useEffect(() => () => setWeighView({ pointed: null }), []);
  const { palette, paletteShares } = figures;
  const colours = palette
    .map((colour, i) => ({ colour, share: paletteShares?.[i] ?? null }))
    .sort((one, other) => (other.share ?? 0) - (one.share ?? 0));
  const set = (change: (gif: GifSettings) => GifSettings) =>
    store.getState().change((recipe) => {
      const { weigh } = recipe;
      return { ...recipe, weigh: changeWeigh(weigh, { gif: change(weigh.gif) }) };
    });
  const told = colours.find(({ colour }) => colour === (pointed ?? chosen)) ?? null;
  return (
    <BankSection title={titleOf(figures)}>
      <fieldset className={classes.palette} aria-label={`The file’s colours, the commonest first`}>
        {colours.slice(0, MOST_SHOWN).map(({ colour }) => (
          <button
            key={colour}
            type="button"
            style={{ background: colour }}
            aria-label={colour}
            aria-pressed={chosen === colour}
            data-kept={gif.kept.includes(colour) || undefined}
            onPointerEnter={() => setWeighView({ pointed: colour })}
            onPointerLeave={() => setWeighView({ pointed: null })}
            onFocus={(event) =>
              event.currentTarget.matches(':focus-visible') && setWeighView({ pointed: colour })
            }
            onBlur={() => setWeighView({ pointed: null })}
            onClick={() => setChosen(colour)}
          />
        ))}
      </fieldset>
      {colours.length > MOST_SHOWN && (
        <p className={classes.ownPace}>
          The {colours.length - MOST_SHOWN} that are used least are not shown.
        </p>
      )}
      <p className={classes.colourLine}>
        {told ? (
          <>
            <strong>{told.colour}</strong> {told.share !== null && shareWords(told.share)}
          </>
        ) : (
          'Point at a colour to see where it is; click it to keep or drop it.'
        )}
      </p>
      {chosen && (
        <div className={classes.colourTools}>
          <span style={{ background: chosen }} />
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => set((now) => chooseColour(now, 'kept', chosen))}
          >
            Keep for certain
          </Button>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => set((now) => chooseColour(now, 'dropped', chosen))}
          >
            Drop
          </Button>
        </div>
      )}
      <Choices
        name="Kept"
        colours={gif.kept}
        onRelease={(colour) => set((now) => releaseColour(now, colour))}
      />
      <Choices
        name="Dropped"
        colours={gif.dropped}
        onRelease={(colour) => set((now) => releaseColour(now, colour))}
      />
      <OwnColour
        isFull={gif.kept.length >= Math.min(GIF_LIMITS.chosen.max, gif.colors)}
        onKeep={(colour) => set((now) => chooseColour(now, 'kept', colour))}
      />
    </BankSection>
  );
}

/** Colours that are shown; a palette for each frame has thousands. */
const MOST_SHOWN = 256;

function titleOf({ palette, palettes = 1 }: TrialFigures): string {
  return palettes === 1
    ? `Palette · ${palette.length} colours`
    : `${palettes} palettes · ${palette.length} colours`;
}

function shareWords(share: number): string {
  if (share === 0) return 'in no pixel';
  return share < 0.001
    ? 'in less than 0.1 % of the pixels'
    : `in ${(share * 100).toFixed(1)} % of the pixels`;
}

interface ChoicesProps {
  readonly name: string;
  readonly colours: readonly string[];
  readonly onRelease: (colour: string) => void;
}

function Choices({ name, colours, onRelease }: ChoicesProps) {
  if (colours.length === 0) return null;
  return (
    <div className={classes.choices}>
      {name}
      {colours.map((colour) => (
        <button
          key={colour}
          type="button"
          aria-label={`${name}: ${colour}. Release it`}
          onClick={() => onRelease(colour)}
        >
          <span style={{ background: colour }} />
          {colour} <IconX size={12} />
        </button>
      ))}
    </div>
  );
}

/** A colour from elsewhere, such as a brand's. */
function OwnColour({ isFull, onKeep }: { isFull: boolean; onKeep: (colour: string) => void }) {
  const [typed, setTyped] = useState('');
  const colour = typed.toLowerCase();
  return (
    <div className={classes.ownColour}>
      <ColorInput
        size="xs"
        placeholder="#1f8a70"
        aria-label="A colour to keep"
        format="hex"
        value={typed}
        onChange={setTyped}
        eyeDropperButtonProps={{ 'aria-label': 'Take a colour from the screen' }}
      />
      <WhyButton
        size="compact-sm"
        variant="default"
        off={
          isFull
            ? 'As many colours are kept as can be. Let one go first.'
            : COLOUR_PATTERN.test(colour)
              ? null
              : 'Type a colour as six digits first, such as #1f8a70.'
        }
        onClick={() => {
          onKeep(colour);
          setTyped('');
        }}
      >
        Keep it
      </WhyButton>
    </div>
  );
}

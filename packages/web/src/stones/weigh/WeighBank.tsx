import { ColorInput, SegmentedControl, Select } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import { COLOUR_PATTERN, type DitherName, hasOnePalette } from '@muted-pond/core/palette';
import type { Matte } from '@muted-pond/core/pixels';
import {
  framedSize,
  QUALITIES,
  type QualityName,
  RECIPE_LIMITS,
  type WeighSettings,
} from '@muted-pond/core/recipe';
import { evenRateNear, evenRates } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { BankHead, BankSection } from '../../ui/Bank.js';
import { ChoiceRow } from '../../ui/ChoiceRow.js';
import { formatBytes, formatRate } from '../../ui/format.js';
import { SliderRow } from '../../ui/SliderRow.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { DITHER_LABELS, PALETTE_LABELS } from './colour-labels.js';
import { LimitSection } from './LimitSection.js';
import { NotesSection } from './NotesSection.js';
import { PaletteSection } from './PaletteSection.js';
import { useSeenLikeness } from './seen-likeness.js';
import { useTrialsView } from './use-trials.js';
import classes from './weigh.module.css';

const QUALITY_LABELS: Record<QualityName, string> = {
  'near-lossless': 'Near lossless',
  balanced: 'Balanced',
  small: 'Small',
};

export function WeighBank() {
  const { store } = useWorkspace();
  const take = useTake();
  const weigh = useStore(store, (state) => state.recipe.weigh);
  const framing = useStore(store, (state) => state.recipe.framing);
  const { current, shown } = useTrialsView();
  const set = (part: Partial<WeighSettings>) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: { ...recipe.weigh, ...part } }));
  const quality = (Object.keys(QUALITIES) as QualityName[]).find(
    (name) => QUALITIES[name].settle === weigh.settle && QUALITIES[name].squeeze === weigh.squeeze,
  );
  const widest = Math.max(
    RECIPE_LIMITS.width.min,
    Math.min(RECIPE_LIMITS.width.max, framedSize(take.size, framing).width),
  );
  const { speed } = useStore(store, (state) => state.recipe.loop);
  const rates = evenRates(take.times, speed);
  const ownRate = Math.max(1, take.frameRate * speed);
  const fastest = Math.min(RECIPE_LIMITS.frameRate.max, rates.at(-1) ?? Math.ceil(ownRate));

  return (
    <>
      <BankHead
        title="Weigh"
        about="As light as it must be. Every figure is measured on the finished file."
      />
      <Weight trial={shown} isCurrent={shown === current} />
      <LimitSection figures={shown?.figures ?? null} />
      <BankSection title="Picture">
        <SliderRow
          label="Width"
          unit=" px"
          value={weigh.width}
          min={RECIPE_LIMITS.width.min}
          max={widest}
          step={2}
          onChange={(width) => set({ width })}
        />
        {weigh.frameRate === 'source' ? (
          <p className={classes.ownPace}>
            Each frame for as long as the source shows it.{' '}
            <button type="button" onClick={() => set({ frameRate: evenRateNear(take.times, 12) })}>
              Set a frame rate
            </button>
          </p>
        ) : (
          <SliderRow
            label="Frame rate"
            unit=" fps"
            value={weigh.frameRate}
            min={1}
            max={fastest}
            onChange={(frameRate) => set({ frameRate: snapped(frameRate, rates) })}
          />
        )}
        {weigh.frameRate !== 'source' && rates.length > 1 && (
          <EvenRates rates={rates} rate={weigh.frameRate} onTake={(frameRate) => set({ frameRate })} />
        )}
        {weigh.frameRate !== 'source' && take.kind !== 'video' && (
          <p className={classes.ownPace}>
            <button type="button" onClick={() => set({ frameRate: 'source' })}>
              Keep the source’s own delays
            </button>
          </p>
        )}
        <SliderRow
          label="Colours"
          unit=""
          value={weigh.colors}
          min={RECIPE_LIMITS.colors.min}
          max={RECIPE_LIMITS.colors.max}
          onChange={(colors) => set({ colors })}
        />
        <ChoiceRow
          label="Palettes"
          hint="The first picture and what changes after it may have colours of their own"
          names={PALETTE_LABELS}
          value={weigh.palette}
          onChange={(palette) => set({ palette })}
        />
        {weigh.palette === 'auto' && hasOnePalette(weigh.palette, weigh.colors) && (
          <p className={classes.ownPace}>Few colours: one palette for the loop.</p>
        )}
      </BankSection>
      {shown?.figures?.seeThrough && (
        <BankSection title="Edges">
          <ColorInput
            size="sm"
            label="Mixed with"
            format="hex"
            placeholder="nothing: their own colours"
            value={weigh.matte === 'transparent' ? '' : weigh.matte}
            onChangeEnd={(colour) => COLOUR_PATTERN.test(colour) && set({ matte: colour as Matte })}
          />
          <p className={classes.ownPace}>
            Each pixel of the file is seen or not. Where half of it is, the ground it will stand on is mixed
            in.{' '}
            {weigh.matte !== 'transparent' && (
              <button type="button" onClick={() => set({ matte: 'transparent' })}>
                Keep their own colours
              </button>
            )}
          </p>
        </BankSection>
      )}
      <BankSection title="Dither">
        <Select
          aria-label="Dither"
          size="sm"
          allowDeselect={false}
          data={Object.entries(DITHER_LABELS).map(([value, label]) => ({ value, label }))}
          value={weigh.dither}
          onChange={(dither) => dither && set({ dither: dither as DitherName })}
        />
        {weigh.dither !== 'none' && (
          <SliderRow
            label="Strength"
            unit=" %"
            value={weigh.ditherStrength}
            min={0}
            max={100}
            onChange={(ditherStrength) => set({ ditherStrength })}
          />
        )}
      </BankSection>
      <BankSection title="Quality">
        <SegmentedControl
          fullWidth
          size="xs"
          aria-label="Quality"
          value={quality ?? ''}
          onChange={(name) => set(QUALITIES[name as QualityName])}
          data={(Object.keys(QUALITIES) as QualityName[]).map((value) => ({
            value,
            label: QUALITY_LABELS[value],
          }))}
        />
        <SliderRow
          label="Settle"
          unit=" levels"
          hint="How much a pixel must change before it is redrawn"
          value={weigh.settle}
          min={0}
          max={24}
          step={0.5}
          onChange={(settle) => set({ settle })}
        />
        <SliderRow
          label="Squeeze"
          unit=" levels"
          hint="How far similar runs of pixels may be merged"
          value={weigh.squeeze}
          min={0}
          max={24}
          step={0.5}
          onChange={(squeeze) => set({ squeeze })}
        />
      </BankSection>
      <NotesSection figures={shown?.figures ?? null} />
      {shown?.figures && <PaletteSection figures={shown.figures} />}
    </>
  );
}

/** Slower ones than this are rarely meant, frames a second. */
const SLOWEST_OFFERED = 5;

interface EvenRatesProps {
  readonly rates: readonly number[];
  readonly rate: number;
  readonly onTake: (rate: number) => void;
}

/** The rates at which every frame stays equally long. */
function EvenRates({ rates, rate, onTake }: EvenRatesProps) {
  return (
    <p className={classes.evenRates}>
      <span title="At these rates every frame stays equally long and moves on equally far">even</span>
      {rates
        .filter((even) => even >= SLOWEST_OFFERED)
        .map((even) => (
          <button
            key={even}
            type="button"
            aria-label={`${formatRate(even)} frames a second`}
            aria-pressed={even === rate}
            onClick={() => onTake(even)}
          >
            {formatRate(even)}
          </button>
        ))}
    </p>
  );
}

/** A whole number from the slider that is nearly an even rate is meant as that one. */
function snapped(rate: number, evenOnes: readonly number[]): number {
  return evenOnes.find((even) => Math.abs(even - rate) <= 0.5 && Math.round(even) === rate) ?? rate;
}

function Weight({ trial, isCurrent }: { trial: TrialView | null; isCurrent: boolean }) {
  const likeness = useSeenLikeness(trial);
  const figures = trial?.figures;
  if (!figures) return <p className={classes.weight}>—</p>;
  const [number, unit] = formatBytes(figures.bytes).split(' ');
  return (
    <div className={isCurrent ? undefined : classes.stale} data-testid="weight" data-bytes={figures.bytes}>
      <p className={classes.weight}>
        {number} <small>{unit}</small>
      </p>
      <p className={classes.weightMore}>
        {figures.bytes.toLocaleString('en').replaceAll(',', '\u2009')} bytes · likeness {likeness}
        {isCurrent ? '' : ' · of the file before'}
      </p>
    </div>
  );
}

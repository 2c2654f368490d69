import { ColorInput } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import { fileKind } from '@muted-pond/core/files';
import { COLOUR_PATTERN } from '@muted-pond/core/palette';
import type { Matte } from '@muted-pond/core/pixels';
import { changeWeigh, framedSize, RECIPE_LIMITS, type WeighChange } from '@muted-pond/core/recipe';
import { evenRateNear, evenRates, fastestRate } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { IdleVeils } from '../../stone/IdleVeils.js';
import { Likeness } from '../../trials/Likeness.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { BankHead, BankSection } from '../../ui/Bank.js';
import { formatBytes, formatRate } from '../../ui/format.js';
import { SliderRow } from '../../ui/SliderRow.js';
import { KindSection } from './KindSection.js';
import { KIND_FIELDS } from './kinds/index.js';
import { LimitSection } from './LimitSection.js';
import { NotesSection } from './NotesSection.js';
import { PaletteSection } from './PaletteSection.js';
import classes from './weigh.module.css';

export function WeighBank() {
  const { store } = useWorkspace();
  const take = useTake();
  const weigh = useStore(store, (state) => state.recipe.weigh);
  const framing = useStore(store, (state) => state.recipe.framing);
  const { current, shown } = useTrialsView();
  const set = (part: WeighChange) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, part) }));
  const Fields = KIND_FIELDS[weigh.kind];
  const widest = Math.max(
    RECIPE_LIMITS.width.min,
    Math.min(RECIPE_LIMITS.width.max, framedSize(take.size, framing).width),
  );
  const { speed } = useStore(store, (state) => state.recipe.loop);
  const rates = evenRates(take.times, speed, fastestRate(fileKind(weigh.kind).holds.clock));
  const ownRate = Math.max(1, take.frameRate * speed);
  const { holds } = fileKind(weigh.kind);
  const fastest = Math.min(fastestRate(holds.clock), rates.at(-1) ?? Math.ceil(ownRate));

  return (
    <>
      <BankHead
        title="Weigh"
        about="As light as it must be. Every figure is measured on the finished file."
      />
      <IdleVeils />
      <Weight trial={shown} isCurrent={shown === current} />
      <KindSection />
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
      </BankSection>
      {(shown?.figures?.hasAlpha || holds.alpha === 'none') && holds.alpha !== 'soft' && (
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
            {holds.alpha === 'none'
              ? 'No part of the file is transparent: this colour fills what was.'
              : 'Each pixel of the file is seen or not. Where half of it is, the ground it will stand on is mixed in.'}{' '}
            {weigh.matte !== 'transparent' && (
              <button type="button" onClick={() => set({ matte: 'transparent' })}>
                Keep their own colours
              </button>
            )}
          </p>
        </BankSection>
      )}
      {Fields && <Fields />}
      <NotesSection figures={shown?.figures ?? null} />
      {shown?.figures && shown.figures.palette.length > 0 && <PaletteSection figures={shown.figures} />}
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
  const figures = trial?.figures;
  if (!figures) return <p className={classes.weight}>—</p>;
  const [number, unit] = formatBytes(figures.bytes).split(' ');
  return (
    <div className={isCurrent ? undefined : classes.stale} data-testid="weight" data-bytes={figures.bytes}>
      <p className={classes.weight}>
        {number} <small>{unit}</small>
      </p>
      <p className={classes.weightMore}>
        {figures.bytes.toLocaleString('en').replaceAll(',', '\u2009')} bytes · likeness{' '}
        <Likeness trial={trial} />
        {isCurrent ? '' : ' · of the file before'}
      </p>
    </div>
  );
}

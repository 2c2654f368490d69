import { SegmentedControl } from '@mantine/core';
import { joinOf, type LoopSettings } from '@muted-pond/core/loop';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { evennessOf, evenRates, reelCentiseconds, spanSeconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { changeLoop, changeSpeed, speedFor } from '../../piece/loop-edits.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { formatRate, playsWords } from '../../ui/format.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { SliderRow } from '../../ui/SliderRow.js';
import classes from './loop.module.css';
import { SmoothRow } from './SmoothRow.js';

const { min: SLOWEST, max: FASTEST } = RECIPE_LIMITS.speed;
/** Speeds within reach of the slider; the number takes all. */
const SLIDER_SPEEDS = [0.25, 4] as const;

/** How fast, which way, where it rests, how often. */
export function PaceSection() {
  const workspace = useWorkspace();
  const { store } = workspace;
  const { times } = useTake();
  const recipe = useStore(store, shownRecipe);
  const { loop: settings, span, plays } = recipe;
  const { loop } = usePieceLoop();
  const set = (part: Partial<LoopSettings>) => changeLoop(workspace, part);
  const setPlays = (next: number) => store.getState().change((before) => ({ ...before, plays: next }));
  const seconds = spanSeconds(times, span);
  const kind = plays === 0 ? 'endless' : plays === 1 ? 'once' : 'times';
  return (
    <BankSection title="Pace">
      <SliderRow
        label="Speed"
        unit=" ×"
        value={settings.speed}
        min={SLIDER_SPEEDS[0]}
        max={SLIDER_SPEEDS[1]}
        widest={[SLOWEST, FASTEST]}
        step={0.05}
        onChange={(speed) => changeSpeed(workspace, speed)}
      />
      <div className={classes.row}>
        <span>Make the span last</span>
        <NumberEntry
          label="Make the span last, seconds"
          value={seconds / settings.speed}
          decimals={2}
          suffix=" s"
          min={Math.max(0.02, seconds / FASTEST)}
          max={seconds / SLOWEST}
          onEnter={(wanted) => changeSpeed(workspace, speedFor(seconds, wanted))}
        />
      </div>
      <SmoothRow />
      <Evenness />
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Direction"
        value={settings.reverse ? 'backward' : 'forward'}
        onChange={(value) => set({ reverse: value === 'backward' })}
        data={[
          { value: 'forward', label: 'Forwards' },
          { value: 'backward', label: 'Backwards' },
        ]}
      />
      {(['restStartCs', 'restEndCs'] as const).map((rest) => (
        <div className={classes.row} key={rest}>
          <span>
            {rest === 'restStartCs'
              ? 'Rest at the start'
              : joinOf(settings.join).turns
                ? 'Rest where it turns'
                : 'Rest at the end'}
          </span>
          <NumberEntry
            label={rest === 'restStartCs' ? 'Rest at the start, seconds' : 'Rest at the end, seconds'}
            value={settings[rest] / 100}
            decimals={2}
            suffix=" s"
            max={RECIPE_LIMITS.restCs.max / 100}
            onEnter={(rested) => set({ [rest]: Math.round(rested * 100) })}
          />
        </div>
      ))}
      <div className={classes.row}>
        <SegmentedControl
          size="xs"
          aria-label="How often it is seen"
          value={kind}
          onChange={(value) => setPlays(value === 'endless' ? 0 : value === 'once' ? 1 : 3)}
          data={[
            { value: 'endless', label: 'Without end' },
            { value: 'once', label: 'Once' },
            { value: 'times', label: 'n times' },
          ]}
        />
        {kind === 'times' && (
          <NumberEntry
            label="Times it is seen"
            value={plays}
            min={1}
            max={RECIPE_LIMITS.plays.max}
            onEnter={setPlays}
          />
        )}
      </div>
      <p className={classes.note}>
        Seen {playsWords(plays)}
        {loop && plays > 0 && `, ${((reelCentiseconds(loop.reel) * plays) / 100).toFixed(2)} s in all`}.
      </p>
    </BankSection>
  );
}

/** How long frames stay at the frame rate, and which rates nearby are even. */
function Evenness() {
  const { store } = useWorkspace();
  const { times } = useTake();
  const { loop } = usePieceLoop();
  const { loop: settings, weigh } = useStore(store, shownRecipe);
  const { frameRate } = weigh;
  // What is smooth is even.
  if (!loop || frameRate === 'source' || settings.smooth || settings.edits.length > 0) return null;
  const setRate = (rate: number) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: { ...recipe.weigh, frameRate: rate } }));
  // Rests are meant; what the rate makes of the others is told.
  const moving = loop.items.slice(1, -1);
  if (moving.length === 0) return null;
  const { shortestCs, longestCs, isEven } = evennessOf(moving);
  if (isEven) {
    return (
      <p className={classes.note}>
        {formatRate(frameRate)} frames a second: each for {shortestCs / 100} s
        {shortestCs === longestCs ? '' : ` or ${longestCs / 100} s`}.
      </p>
    );
  }
  const rates = evenRates(times, settings.speed);
  const nearest = [rates.findLast((rate) => rate < frameRate), rates.find((rate) => rate > frameRate)];
  const offered = nearest.filter((rate) => rate !== undefined);
  return (
    <p className={classes.note}>
      {formatRate(frameRate)} frames a second: from {shortestCs / 100} s to {longestCs / 100} s each, at the
      footage’s own times.
      {offered.length > 0 && ' Even are '}
      {offered.map((even, i) => (
        <span key={even}>
          {i > 0 && ' and '}
          <button type="button" onClick={() => setRate(even)}>
            {formatRate(even)} fps
          </button>
        </span>
      ))}
      {offered.length > 0 && '.'}
    </p>
  );
}

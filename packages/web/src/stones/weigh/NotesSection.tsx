import { Button } from '@mantine/core';
import type { Saving, TrialFigures } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { SavingsProgress } from '../../trials/SavingsProgress.js';
import { useSavings } from '../../trials/use-savings.js';
import { BankSection } from '../../ui/Bank.js';
import { formatBytes, formatChange, formatRate } from '../../ui/format.js';
import { notesOf } from './file-notes.js';
import classes from './weigh.module.css';

/** What was measured on the file: what weighs in it, what viewers do to it, and what would help. */
export function NotesSection({ figures }: { figures: TrialFigures | null }) {
  const { store } = useWorkspace();
  const recipe = useStore(store, (state) => state.recipe);
  if (!figures) return null;
  return (
    <BankSection title="Notes">
      <ul className={classes.notes}>
        {notesOf(figures, recipe).map(({ words, remedy }) => (
          <li key={words}>
            {words}{' '}
            {remedy && (
              <button type="button" onClick={() => store.getState().change(remedy.change)}>
                {remedy.words}
              </button>
            )}
          </li>
        ))}
      </ul>
      <Savings recipe={recipe} />
    </BankSection>
  );
}

function savingWords({ kind, recipe }: Saving): string {
  const { weigh, span } = recipe;
  const own = weigh[weigh.kind];
  switch (kind) {
    case 'settle':
      return `Settle ${formatRate('settle' in own ? own.settle : 0)}`;
    case 'squeeze':
      return `Squeeze ${formatRate(weigh.gif.squeeze)}`;
    case 'narrower':
      return `${weigh.width} px wide`;
    case 'fewer-frames':
      return `${weigh.frameRate} frames a second`;
    case 'fewer-colours':
      return `${'colors' in own ? own.colors : 0} colours`;
    case 'lower-quality':
      return `Quality ${'quality' in own ? own.quality : 0}`;
    case 'no-dither':
      return 'No dither';
    case 'shorter':
      return `A shorter span, ${span.end - span.start} frames of the footage`;
    case 'steady':
      return 'Steady';
    case 'look':
      return 'A look';
  }
}

/** What each change alone would save, measured by making the file with it. */
function Savings({ recipe }: { recipe: Recipe }) {
  const { store } = useWorkspace();
  const savings = useSavings('settings');
  const { view } = savings;
  if (view?.state === 'working') return <SavingsProgress savings={savings} label="Trying what would help" />;
  return (
    <>
      <SavingsProgress savings={savings} label="Trying what would help" />
      {view?.state === 'done' && (
        <ul className={classes.savings} aria-label="What would help">
          {view.savings.map((saving) => (
            <li key={saving.kind}>
              <button type="button" onClick={() => store.getState().change(() => saving.recipe)}>
                {savingWords(saving)}
              </button>
              <span>
                {formatBytes(saving.bytes)}, {formatChange(saving.bytes, view.bytes)}
              </span>
            </li>
          ))}
        </ul>
      )}
      <Button fullWidth variant="default" onClick={() => savings.begin(recipe)}>
        {view?.state === 'done' ? 'Try again what would help' : 'Try what would help'}
      </Button>
    </>
  );
}

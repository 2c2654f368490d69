import { Button, Progress } from '@mantine/core';
import type { Saving, SavingsView, TrialFigures } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { beginSavings, stopSavings } from '../../api/fit.js';
import { keys } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { BankSection } from '../../ui/Bank.js';
import { formatBytes, formatRate } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
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
  switch (kind) {
    case 'settle':
      return `Settle ${formatRate(weigh.gif.settle)}`;
    case 'squeeze':
      return `Squeeze ${formatRate(weigh.gif.squeeze)}`;
    case 'narrower':
      return `${weigh.width} px wide`;
    case 'fewer-frames':
      return `${weigh.frameRate} frames a second`;
    case 'fewer-colours':
      return `${weigh.gif.colors} colours`;
    case 'no-dither':
      return 'No dither';
    case 'shorter':
      return `A shorter span, ${span.end - span.start} frames of the footage`;
    case 'steady':
      return 'Steady';
  }
}

/** What each change alone would save, measured by making the file with it. */
function Savings({ recipe }: { recipe: Recipe }) {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const view =
    useQuery<SavingsView | null>({ queryKey: keys.savings(pieceId), queryFn: skipToken }).data ?? null;
  const set = (next: SavingsView | null) => client.setQueryData(keys.savings(pieceId), next);
  const begin = () => beginSavings(pieceId, recipe).then(set, tellProblem);
  const stop = () => stopSavings(pieceId).then(() => set(null), tellProblem);
  if (view?.state === 'working') {
    return (
      <div className={classes.fitting} role="status">
        <span>{view.doing}</span>
        <Progress size="sm" color="lily" value={view.done * 100} aria-label="Trying what would help" />
        <Button size="compact-sm" variant="default" onClick={() => void stop()}>
          Stop
        </Button>
      </div>
    );
  }
  return (
    <>
      {view?.state === 'failed' && <p className={classes.refused}>{view.problem}</p>}
      {view?.state === 'done' && (
        <ul className={classes.savings} aria-label="What would help">
          {view.savings.map((saving) => {
            const share = Math.round((saving.bytes / view.bytes - 1) * 100);
            return (
              <li key={saving.kind}>
                <button type="button" onClick={() => store.getState().change(() => saving.recipe)}>
                  {savingWords(saving)}
                </button>
                <span>
                  {formatBytes(saving.bytes)}, {share > 0 ? '+' : '−'}
                  {Math.abs(share)} %
                </span>
              </li>
            );
          })}
        </ul>
      )}
      <Button fullWidth variant="default" onClick={() => void begin()}>
        {view?.state === 'done' ? 'Try again what would help' : 'Try what would help'}
      </Button>
    </>
  );
}

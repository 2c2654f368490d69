import { Anchor, MultiSelect } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import { fileForm, fileKind } from '@muted-pond/core/files';
import { type ComparedFile, MOST_COMPARED, sideBySidePage } from '@muted-pond/core/pages';
import { useState } from 'react';
import { useStore } from 'zustand';
import { fetchBytes } from '../../api/client.js';
import { publishBeside, usePracticeHost } from '../../api/practice-host.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { BankSection } from '../../ui/Bank.js';
import { formatBytes, formatRate } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { saveText } from '../../ui/save-text.js';
import { WhyButton } from '../../ui/WhyButton.js';
import { dataUrlOf } from './data-url.js';
import classes from './send.module.css';
import { useSendHabits } from './send-habits.js';
import { setSendView, useSendView } from './send-view.js';

const NOT_ENOUGH = 'Choose two finished trials first: there is nothing to compare one with.';

/** Two to four finished files, to be judged beside one another. */
export function BesideSection() {
  const { store } = useWorkspace();
  const name = useStore(store, (state) => state.name);
  const stage = useSendView((view) => view.stage);
  const { trials } = useTrialsView();
  const done = trials.filter((trial) => trial.state === 'done' && trial.shownAs !== 'list');
  const chosen = useBesideTrials();
  const isEnough = chosen.length >= 2;
  return (
    <BankSection title="Side by side">
      <MultiSelect
        size="sm"
        aria-label="Trials side by side"
        placeholder={chosen.length === 0 ? 'Two to four trials' : undefined}
        maxValues={MOST_COMPARED}
        value={chosen.map(({ id }) => id)}
        onChange={(ids) => {
          setSendView({ beside: ids });
          if (ids.length < 2) setSendView({ stage: 'page' });
        }}
        data={done.map((trial) => ({ value: trial.id, label: titleOf(trial) }))}
      />
      {!isEnough && <p className={classes.about}>{NOT_ENOUGH}</p>}
      <WhyButton
        fullWidth
        variant="default"
        className={classes.more}
        off={isEnough ? null : NOT_ENOUGH}
        isTold
        onClick={() => setSendView({ stage: stage === 'beside' ? 'page' : 'beside' })}
      >
        {stage === 'beside' && isEnough ? 'Back to the page' : 'Look at them in step'}
      </WhyButton>
      <WhyButton
        fullWidth
        variant="default"
        className={classes.more}
        off={isEnough ? null : NOT_ENOUGH}
        isTold
        onClick={() =>
          void besidePage(name, chosen)
            .then((html) => saveText(html, `${name}, side by side.html`, 'text/html'))
            .catch(tellProblem)
        }
      >
        Save as one page
      </WhyButton>
      <Publish name={name} chosen={chosen} />
    </BankSection>
  );
}

/** The chosen files on one page of the place that takes any kind, or of the first that is ticked. */
function Publish({ name, chosen }: { name: string; chosen: readonly TrialView[] }) {
  const host = usePracticeHost().data;
  const ticked = useSendHabits((habits) => habits.places);
  const [url, setUrl] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  if (!host?.url) return null;
  const place =
    host.places.find(({ id }) => ticked.includes(id)) ?? host.places.find(({ kinds }) => kinds === null);
  if (!place) return null;
  const publish = async () => {
    setBusy(true);
    try {
      const trials = chosen.map((trial) => ({
        trial: trial.id,
        title: titleOf(trial),
        about: linesOf(trial).slice(1).join(' | '),
      }));
      setUrl((await publishBeside({ place: place.id, title: name, trials })).url);
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <WhyButton
        fullWidth
        variant="default"
        className={classes.more}
        off={chosen.length < 2 ? NOT_ENOUGH : null}
        isTold
        loading={isBusy}
        onClick={() => void publish()}
      >
        Publish at {place.name}
      </WhyButton>
      {url && (
        <p className={classes.about}>
          <Anchor href={url} target="_blank" rel="noreferrer" size="sm">
            Open the page that compares them
          </Anchor>
        </p>
      )}
    </>
  );
}

/** The chosen trials that are still there. */
export function useBesideTrials(): readonly TrialView[] {
  const ids = useSendView((view) => view.beside);
  const { trials } = useTrialsView();
  return ids.flatMap((id) => trials.find((trial) => trial.id === id && trial.figures !== null) ?? []);
}

export function titleOf({ letter, name, recipe, figures }: TrialView): string {
  const weight = figures ? ` · ${formatBytes(figures.bytes)}` : '';
  return `${letter} · ${name ?? fileKind(recipe.weigh.kind).name}${weight}`;
}

/** Settings and figures of a trial, a line each. */
export function linesOf({ recipe, figures }: TrialView): string[] {
  if (!figures) return [];
  const { weigh } = recipe;
  const { width, height, frames, durationMs, bytes, likeness } = figures;
  const rate = durationMs > 0 ? ` · ${formatRate(frames / (durationMs / 1000))} fps` : '';
  return [
    `${fileKind(weigh.kind).name}, ${formatBytes(bytes)}`,
    `${width} × ${height}${rate}`,
    fileKind(weigh.kind).words(weigh[weigh.kind]),
    `likeness ${likeness.toFixed(3)}`,
  ];
}

/** One page with the files inside. */
export async function besidePage(name: string, trials: readonly TrialView[]): Promise<string> {
  const files = await Promise.all(
    trials.map(async (trial): Promise<ComparedFile> => {
      const { mime } = fileForm(trial.recipe.weigh);
      const bytes = await fetchBytes(`trials/${trial.id}/file`);
      return {
        title: titleOf(trial),
        lines: linesOf(trial),
        url: await dataUrlOf(bytes, mime),
        isMovie: mime.startsWith('video/'),
        width: trial.figures?.width ?? 0,
        height: trial.figures?.height ?? 0,
      };
    }),
  );
  return sideBySidePage(`${name}, side by side`, files);
}

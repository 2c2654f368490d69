import { ActionIcon } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import { IconX } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { deleteTrial, keys } from '../../api/queries.js';
import { formatBytes, formatRate } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { DITHER_LABELS } from './dither-labels.js';
import { FrameWeights } from './FrameWeights.js';
import { useTrialsView } from './use-trials.js';
import classes from './weigh.module.css';

/** Every trial with its figures; a click goes back to its settings. Beside it, what each frame weighs. */
export function TrialLedger() {
  const { trials, current, shown } = useTrialsView();
  const list = useRef<HTMLDivElement>(null);
  const count = trials.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new row is at the end, where it should be seen
  useEffect(() => {
    list.current?.scrollTo({ top: list.current.scrollHeight });
  }, [count]);
  return (
    <section className={classes.lower} aria-label="Trials">
      <div className={classes.ledger}>
        <p className={classes.lowerHead}>
          <strong>Trials</strong> every row is a finished file; click one to go back to it
        </p>
        <div className={classes.rows} ref={list}>
          <table>
            <thead>
              <tr>
                <th />
                <th>size</th>
                <th>fps</th>
                <th>colours</th>
                <th>dither</th>
                <th>settle · squeeze</th>
                <th>weight</th>
                <th>likeness</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {trials.map((trial) => (
                <TrialRow key={trial.id} trial={trial} isCurrent={trial.id === current?.id} />
              ))}
            </tbody>
          </table>
        </div>
      </div>
      <div className={classes.chart}>
        <p className={classes.lowerHead}>weight by frame</p>
        {shown?.figures && <FrameWeights frameBytes={shown.figures.frameBytes} />}
      </div>
    </section>
  );
}

function TrialRow({ trial, isCurrent }: { trial: TrialView; isCurrent: boolean }) {
  const { store, pieceId } = useWorkspace();
  const client = useQueryClient();
  const { weigh } = trial.recipe;
  const { figures } = trial;
  const goBack = () => store.getState().change(() => trial.recipe);
  const dither =
    weigh.dither === 'none'
      ? 'none'
      : `${DITHER_LABELS[weigh.dither].toLowerCase()} ${weigh.ditherStrength} %`;
  return (
    <tr
      className={isCurrent ? classes.currentRow : classes.rowLine}
      aria-current={isCurrent || undefined}
      onClick={goBack}
    >
      <td>
        <button
          type="button"
          className={classes.letter}
          aria-label={`Go back to trial ${trial.letter}`}
          onClick={goBack}
        >
          {trial.letter}
        </button>
      </td>
      <td>{figures ? `${figures.width} × ${figures.height}` : `${weigh.width} px`}</td>
      <td>{weigh.frameRate === 'source' ? 'own' : formatRate(weigh.frameRate)}</td>
      <td>{weigh.colors}</td>
      <td>{dither}</td>
      <td>
        {weigh.settle} · {weigh.squeeze}
      </td>
      <td className={classes.weightCell}>{figures ? formatBytes(figures.bytes) : stateWord(trial)}</td>
      <td>{figures ? figures.likeness.toFixed(3) : ''}</td>
      <td>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="deep"
          aria-label={`Delete trial ${trial.letter}`}
          style={isCurrent && trial.state === 'done' ? { visibility: 'hidden' } : undefined}
          onClick={(event) => {
            event.stopPropagation();
            deleteTrial(trial.id)
              .then(() => client.invalidateQueries({ queryKey: keys.trials(pieceId) }))
              .catch(tellProblem);
          }}
        >
          <IconX size={14} />
        </ActionIcon>
      </td>
    </tr>
  );
}

function stateWord({ state, progress }: TrialView): string {
  if (state === 'failed') return 'could not be made';
  if (state === 'interrupted') return 'interrupted';
  return progress ? `${Math.round(progress.done * 100)} %` : 'waiting';
}

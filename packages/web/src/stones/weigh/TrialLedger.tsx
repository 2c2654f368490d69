import { ActionIcon, TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import type { TrialChange, TrialView } from '@muted-pond/core/api';
import { fileKind } from '@muted-pond/core/files';
import { checkLimit, type Limit } from '@muted-pond/core/recipe';
import { IconPin, IconPinFilled, IconX } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { placeTrial } from '../../api/events.js';
import { changeTrial, deleteTrial, keys } from '../../api/queries.js';
import { showOnCourse } from '../../piece/course-news.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { Likeness } from '../../trials/Likeness.js';
import { LikenessChart } from '../../trials/LikenessChart.js';
import { useChosenLimit } from '../../trials/limit-choice.js';
import { overrunWords } from '../../trials/overrun-words.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { setWeighView, useWeighView } from '../../trials/weigh-view.js';
import { formatBytes, formatRate, formatSeconds } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { Scrolled } from '../../ui/Scrolled.js';
import { FrameWeights } from './FrameWeights.js';
import classes from './weigh.module.css';

/** Every trial with its figures; a click goes back to its settings. Beside it, what each frame weighs. */
export function TrialLedger() {
  const { trials, current, shown } = useTrialsView();
  const limit = useChosenLimit();
  const change = useTrialChange(shown);
  useHotkeys([['P', () => shown && change({ pinned: !shown.pinned })]]);
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
        <Scrolled className={classes.rows} listRef={list}>
          <table>
            <thead>
              <tr>
                <th />
                <th>kind</th>
                <th>size</th>
                <th>fps</th>
                <th>made with</th>
                <th>weight</th>
                <th title="SSIM against the full-colour reel, every trial drawn as wide as the widest">
                  likeness
                </th>
                <th>made in</th>
                {limit && <th title={limit.name}>limit</th>}
                <th>name</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {trials.map((trial) => (
                <TrialRow key={trial.id} trial={trial} limit={limit} isCurrent={trial.id === current?.id} />
              ))}
            </tbody>
          </table>
        </Scrolled>
      </div>
      <Charts trials={trials} shown={shown} />
    </section>
  );
}

const CHARTS = { frames: 'weight by frame', likeness: 'weight and likeness' } as const;

function Charts({ trials, shown }: { trials: readonly TrialView[]; shown: TrialView | null }) {
  const chart = useWeighView((view) => view.chart);
  return (
    <div className={classes.chart}>
      <p className={`${classes.lowerHead} ${classes.chartTabs}`}>
        {(Object.keys(CHARTS) as (keyof typeof CHARTS)[]).map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={chart === name}
            onClick={() => setWeighView({ chart: name })}
          >
            {CHARTS[name]}
          </button>
        ))}
      </p>
      {chart === 'frames'
        ? shown?.figures && <FrameWeights frameBytes={shown.figures.frameBytes} />
        : shown && <LikenessChart trials={trials} shown={shown} />}
    </div>
  );
}

function useTrialChange(trial: TrialView | null): (part: TrialChange) => void {
  const client = useQueryClient();
  return (part) => {
    if (trial) changeTrial(trial.id, part).then((changed) => placeTrial(client, changed), tellProblem);
  };
}

interface TrialRowProps {
  readonly trial: TrialView;
  readonly limit: Limit | null;
  readonly isCurrent: boolean;
}

function TrialRow({ trial, limit, isCurrent }: TrialRowProps) {
  const { store, pieceId } = useWorkspace();
  const client = useQueryClient();
  const { weigh } = trial.recipe;
  const { figures } = trial;
  const over = limit && figures ? checkLimit(limit, figures) : [];
  const change = useTrialChange(trial);
  const madeWith = fileKind(weigh.kind).words(weigh[weigh.kind]);
  const goBack = () => {
    showOnCourse();
    store.getState().change(() => trial.recipe);
  };
  return (
    <tr
      className={isCurrent ? classes.currentRow : classes.rowLine}
      aria-current={isCurrent || undefined}
      onClick={(event) => !(event.target as Element).closest('button, input') && goBack()}
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
      <td>{fileKind(weigh.kind).name}</td>
      <td>{figures ? `${figures.width} × ${figures.height}` : `${weigh.width} px`}</td>
      <td>{weigh.frameRate === 'source' ? 'own' : formatRate(weigh.frameRate)}</td>
      <td className={classes.madeWith} title={madeWith}>
        {madeWith}
      </td>
      <td className={classes.weightCell}>{figures ? formatBytes(figures.bytes) : stateWord(trial)}</td>
      <td>{figures && <Likeness trial={trial} />}</td>
      <td>{figures ? formatSeconds(figures.ms.total / 1000) : ''}</td>
      {limit && (
        <td
          className={over.length === 0 ? classes.fits : classes.isOver}
          title={over.map(overrunWords).join(', ')}
        >
          {figures && (over.length === 0 ? 'fits' : 'over')}
        </td>
      )}
      <td>
        <TextInput
          key={trial.name}
          variant="unstyled"
          size="xs"
          className={classes.nameField}
          placeholder="no name"
          aria-label={`Name of trial ${trial.letter}`}
          maxLength={40}
          defaultValue={trial.name ?? ''}
          onBlur={(event) => {
            const typed = event.currentTarget.value.trim() || null;
            if (typed !== trial.name) change({ name: typed });
          }}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
      </td>
      <td>
        <div className={classes.rowTools}>
          <ActionIcon
            size="sm"
            variant="subtle"
            color={trial.pinned ? 'lily' : 'deep'}
            aria-label={trial.pinned ? `Unpin trial ${trial.letter}` : `Pin trial ${trial.letter}`}
            aria-pressed={trial.pinned}
            title={trial.pinned ? 'Kept for good' : 'Keep it for good'}
            onClick={() => change({ pinned: !trial.pinned })}
          >
            {trial.pinned ? <IconPinFilled size={14} /> : <IconPin size={14} />}
          </ActionIcon>
          <ActionIcon
            size="sm"
            variant="subtle"
            color="deep"
            aria-label={`Delete trial ${trial.letter}`}
            style={isCurrent && trial.state === 'done' ? { visibility: 'hidden' } : undefined}
            onClick={() => {
              deleteTrial(trial.id)
                .then(() => client.invalidateQueries({ queryKey: keys.trials(pieceId) }))
                .catch(tellProblem);
            }}
          >
            <IconX size={14} />
          </ActionIcon>
        </div>
      </td>
    </tr>
  );
}

function stateWord({ state, progress }: TrialView): string {
  if (state === 'failed') return 'could not be made';
  if (state === 'interrupted') return 'interrupted';
  return progress ? `${Math.round(progress.done * 100)} %` : 'waiting';
}

import { SegmentedControl } from '@mantine/core';
import { framedSize } from '@muted-pond/core/recipe';
import { useState } from 'react';
import { useStore } from 'zustand';
import { trialFileUrl, useTrials } from '../../api/queries.js';
import { Pill } from '../../stage/Pill.js';
import stage from '../../stage/stage.module.css';
import { formatRate } from '../../ui/format.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { Making } from './Making.js';
import { useTrialMaker, useTrialsView } from './use-trials.js';
import classes from './weigh.module.css';

/** The finished file itself, playing; and how far the next one is. */
export function TrialStage() {
  const { pieceId, store } = useWorkspace();
  const { size } = useTake();
  const framed = framedSize(
    size,
    useStore(store, (state) => state.recipe.framing),
  );
  const { current, shown } = useTrialsView();
  const maker = useTrialMaker(current, useTrials(pieceId).isSuccess);
  const [view, setView] = useState<'fit' | 'real'>('fit');
  const making = current?.progress ? current : null;
  const problem = maker.problem ?? current?.problem ?? null;

  return (
    <div className={stage.stage} data-testid="stage">
      {shown?.figures ? (
        <img
          className={view === 'fit' ? classes.fitted : classes.real}
          style={{ aspectRatio: `${shown.figures.width} / ${shown.figures.height}` }}
          src={trialFileUrl(shown.id)}
          width={shown.figures.width}
          height={shown.figures.height}
          alt={`The file of trial ${shown.letter}, playing`}
          data-trial={shown.letter}
        />
      ) : (
        <div className={classes.waiting} style={{ aspectRatio: `${framed.width} / ${framed.height}` }}>
          The first file is being made.
        </div>
      )}
      {problem && (
        <p className={stage.problem} role="alert">
          {problem}{' '}
          <button type="button" className={classes.again} onClick={maker.makeNow}>
            Make it again
          </button>
        </p>
      )}
      <SegmentedControl
        className={classes.view}
        size="xs"
        value={view}
        onChange={(value) => setView(value as 'fit' | 'real')}
        data={[
          { value: 'fit', label: 'Fill the stage' },
          { value: 'real', label: 'Real pixels' },
        ]}
      />
      {shown?.figures && (
        <Pill side="left">
          <strong>
            {shown === current ? 'the real file, playing' : `trial ${shown.letter}, until the next is made`}
          </strong>
          {formatRate(shown.figures.frames / (shown.figures.durationMs / 1000))} fps · {shown.figures.width} ×{' '}
          {shown.figures.height} · {shown.figures.colors} colours
        </Pill>
      )}
      {making && (
        <Pill side="right">
          <Making trial={making} onCancel={() => maker.cancel(making.id)} />
        </Pill>
      )}
    </div>
  );
}

import { Button, Progress } from '@mantine/core';
import type { FitOffer, TrialView } from '@muted-pond/core/api';
import { checkLimit, type Limit, retarget } from '@muted-pond/core/recipe';
import type { FitKind } from '@muted-pond/core/weigh';
import { useQueryClient } from '@tanstack/react-query';
import { beginFit, stopFit, useFit } from '../../api/fit.js';
import { valuesOf } from '../../api/limits.js';
import { keepNewest } from '../../api/newest.js';
import { keys } from '../../api/queries.js';
import { showOnCourse } from '../../piece/course-news.js';
import { filesOf } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { Likeness } from '../../trials/Likeness.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { formatBytes } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { gaveUpWords } from './gave-up-words.js';
import classes from './weigh.module.css';

const KIND_LABELS: Record<FitKind, string> = {
  sharp: 'Keep it sharp',
  smooth: 'Keep it smooth',
  colour: 'Keep the colour',
};

/** Finished files under the limit; one click takes one. */
export function FitOffers({ limit }: { limit: Limit }) {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const fit = useFit(pieceId).data ?? null;
  const { trials } = useTrialsView();
  const begin = () =>
    beginFit(pieceId, store.getState().recipe, valuesOf(limit)).then(
      (view) => keepNewest(client, keys.fit(pieceId), view),
      tellProblem,
    );
  const stop = () => stopFit(pieceId).then(() => client.setQueryData(keys.fit(pieceId), null), tellProblem);
  const found = (fit?.offers ?? []).flatMap((offer) => {
    const trial = trials.find((one) => one.id === offer.trial);
    return trial?.figures && checkLimit(limit, trial.figures).length === 0 ? [{ offer, trial }] : [];
  });
  if (fit?.state === 'working') {
    return (
      <div className={classes.fitting} role="status">
        <span>{fit.doing}</span>
        <Progress size="sm" color="lily" value={fit.done * 100} aria-label="Fitting under the limit" />
        <Button size="compact-sm" variant="default" onClick={() => void stop()}>
          Stop
        </Button>
      </div>
    );
  }
  return (
    <>
      {found.map(({ offer, trial }) => (
        <Offer key={offer.kind} offer={offer} trial={trial} />
      ))}
      {fit?.state === 'failed' && <p className={classes.refused}>{fit.problem}</p>}
      <Button
        fullWidth
        variant={found.length > 0 ? 'default' : 'filled'}
        color="deep"
        onClick={() => void begin()}
      >
        {found.length > 0 ? 'Fit again' : `Fit under ${formatBytes(limit.bytes)}`}
      </Button>
    </>
  );
}

function Offer({ offer, trial }: { offer: FitOffer; trial: TrialView }) {
  const { store, files } = useWorkspace();
  const { current } = useTrialsView();
  const { figures, recipe } = trial;
  if (!figures) return null;
  const rate = Math.round((figures.frames / figures.durationMs) * 1e4) / 10;
  return (
    <button
      type="button"
      className={classes.offer}
      aria-pressed={current?.id === trial.id}
      onClick={() => {
        showOnCourse();
        const known = files.getState().files;
        store.getState().change((now) => {
          const over = filesOf(now, known);
          return retarget({ recipe, files: over }, { recipe: now, files: over }, ['weigh']).recipe;
        });
      }}
    >
      <strong>{KIND_LABELS[offer.kind]}</strong>
      <span>
        {figures.width} px · {rate} fps · {formatBytes(figures.bytes)}
      </span>
      <small>
        {gaveUpWords(recipe.weigh)} · likeness <Likeness trial={trial} />
      </small>
    </button>
  );
}

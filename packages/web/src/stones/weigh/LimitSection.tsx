import { Anchor, Button, Select } from '@mantine/core';
import type { TrialFigures } from '@muted-pond/core/api';
import { type FileKindId, fileKind } from '@muted-pond/core/files';
import { changeWeigh, type Limit } from '@muted-pond/core/recipe';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import { useLimits } from '../../api/limits.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { chooseLimit, useChosenLimit } from '../../trials/limit-choice.js';
import { verdictOf } from '../../trials/overrun-words.js';
import { setWeighView, useWeighView } from '../../trials/weigh-view.js';
import { formatBytes } from '../../ui/format.js';
import { FitOffers } from './FitOffers.js';
import classes from './weigh.module.css';

/** The bar goes on past the limit, so that it is seen how far over a file is. */
const BAR_ENDS_AT = 1.18;

/** What the file is held against, how far under or over it is, and files that fit. */
export function LimitSection({ figures }: { figures: TrialFigures | null }) {
  const { pieceId } = useWorkspace();
  const limits = useLimits();
  const limit = useChosenLimit();
  const verdict = verdictOf(limit, figures);
  const cameFrom = useWeighView((view) => view.cameFrom);
  return (
    <section aria-label="Limit">
      {limit && figures && verdict && (
        <>
          <p className={classes.verdict} data-fits={verdict.fits} data-testid="verdict">
            {verdict.words}
          </p>
          <div className={classes.bar} data-fits={figures.bytes <= limit.bytes}>
            <div style={{ width: `${Math.min(1, figures.bytes / limit.bytes / BAR_ENDS_AT) * 100}%` }} />
            <span style={{ left: `${100 / BAR_ENDS_AT}%` }} />
          </div>
        </>
      )}
      <div className={classes.limitChoice}>
        <Select
          size="xs"
          aria-label="Limit"
          placeholder="No limit"
          clearable
          value={limit?.id ?? null}
          onChange={(id) => chooseLimit(pieceId, id)}
          data={limits.map(({ id, name, bytes, width, height }) => ({
            value: id,
            label: `${name}, ${formatBytes(bytes)} · ${height === null ? `${width} px` : `${width} × ${height}`}`,
          }))}
        />
        <Anchor component={Link} to="/limits" size="sm">
          Edit
        </Anchor>
      </div>
      {limit && <OtherKind limit={limit} />}
      {limit && <FitOffers limit={limit} />}
      {cameFrom === 'send' && (
        <Button
          fullWidth
          mt={8}
          component={Link}
          to={`/pieces/${pieceId}/send`}
          color="deep.8"
          variant={verdict?.fits ? 'filled' : 'default'}
          onClick={() => setWeighView({ cameFrom: null })}
        >
          {verdict?.fits ? 'It fits: back to Send' : 'Back to Send'}
        </Button>
      )}
    </section>
  );
}

/** A place that does not take the present kind says which it takes; a click makes the file one of them. */
function OtherKind({ limit: { name, kinds } }: { limit: Limit }) {
  const { store } = useWorkspace();
  const kind = useStore(store, (state) => state.recipe.weigh.kind);
  if (kinds === null || kinds.includes(kind)) return null;
  const choose = (id: FileKindId) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, { kind: id }) }));
  return (
    <p className={classes.ownPace}>
      {name} takes no {fileKind(kind).name}. Make it{' '}
      {kinds.map((id, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <button type="button" onClick={() => choose(id)}>
            {fileKind(id).name}
          </button>
        </span>
      ))}
    </p>
  );
}

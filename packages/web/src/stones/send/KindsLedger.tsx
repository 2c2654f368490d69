import { Anchor, Button, Checkbox, Progress } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import { type FileKindId, fileKind, SENT_KINDS } from '@muted-pond/core/files';
import { changeWeigh } from '@muted-pond/core/recipe';
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { useStore } from 'zustand';
import { beginAllKinds, stopAllKinds, useAllKinds } from '../../api/kinds.js';
import { keepNewest } from '../../api/newest.js';
import { keys } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { Likeness } from '../../trials/Likeness.js';
import { LikenessChart } from '../../trials/LikenessChart.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { setWeighView } from '../../trials/weigh-view.js';
import { formatBytes, formatSeconds } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { Scrolled } from '../../ui/Scrolled.js';
import { SaveLink } from './FilesSection.js';
import { type KindFile, useKindFiles } from './kind-files.js';
import { loadTimeOf } from './load-time.js';
import classes from './send.module.css';
import { setSendHabits, useSendHabits } from './send-habits.js';

/** The line over which it is told when a file is seen, Mbit/s. */
const TOLD_LINE = 3;

/** The present loop in every kind of file: what each weighs, how like the source it is, and which are sent. */
export function KindsLedger() {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const view = useAllKinds(pieceId).data ?? null;
  const made = useKindFiles();
  const { shown } = useTrialsView();
  const begin = () =>
    void beginAllKinds(pieceId, store.getState().recipe).then(
      (next) => keepNewest(client, keys.kinds(pieceId), next),
      tellProblem,
    );
  const stop = () =>
    void stopAllKinds(pieceId).then(() => client.setQueryData(keys.kinds(pieceId), null), tellProblem);
  const missing = SENT_KINDS.length - made.filter(({ kind }) => SENT_KINDS.includes(kind)).length;
  return (
    <section className={classes.lower} aria-label="Kinds of file">
      <div className={classes.ledger}>
        <div className={classes.lowerHead}>
          <strong>Kinds</strong>
          {view?.state === 'working' ? (
            <span className={classes.making} role="status">
              <span>{view.doing}</span>
              <Progress size="sm" color="lily" value={view.done * 100} aria-label="Making all kinds" />
              <Button size="compact-xs" variant="default" onClick={stop}>
                Stop
              </Button>
            </span>
          ) : (
            <>
              <span>the same loop in each; what is ticked is sent</span>
              {missing > 0 && (
                <Button size="compact-xs" color="deep.8" onClick={begin}>
                  Make all kinds
                </Button>
              )}
            </>
          )}
        </div>
        {view?.state === 'failed' && <p className={classes.refused}>{view.problem}</p>}
        <Scrolled className={classes.rows}>
          <table>
            <thead>
              <tr>
                <th />
                <th>kind</th>
                <th>size</th>
                <th>weight</th>
                <th title="SSIM against the full-colour reel, every trial drawn as wide as the widest">
                  likeness
                </th>
                <th title={`Until its first picture is there over ${TOLD_LINE} Mbit/s, from its bytes`}>
                  seen after
                </th>
                <th>length</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {rowsOf(made).map(({ kind, file }) =>
                file ? (
                  <KindRow key={kind} file={file} />
                ) : (
                  <tr key={kind} className={classes.notMadeRow}>
                    <td />
                    <td>{fileKind(kind).name}</td>
                    <td colSpan={6}>
                      {view?.made.find((one) => one.kind === kind && one.trial === null)?.problem ??
                        `not made · ${fileKind(kind).about}`}
                    </td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
        </Scrolled>
      </div>
      <div className={classes.chart}>
        <p className={classes.lowerHead}>weight and likeness</p>
        {shown && (
          <LikenessChart
            trials={made.filter(({ kind }) => fileKind(kind).shownAs !== 'still').map(({ trial }) => trial)}
            shown={shown}
            height={208}
            nameOf={({ recipe }: TrialView) => fileKind(recipe.weigh.kind).name}
          />
        )}
      </div>
    </section>
  );
}

function rowsOf(made: readonly KindFile[]): { kind: FileKindId; file: KindFile | null }[] {
  const others = made.filter(({ kind }) => !SENT_KINDS.includes(kind)).map(({ kind }) => kind);
  return [...SENT_KINDS, ...others].map((kind) => ({
    kind,
    file: made.find((one) => one.kind === kind) ?? null,
  }));
}

function KindRow({ file }: { file: KindFile }) {
  const { kind, figures, trial, isSent } = file;
  const { pieceId, store } = useWorkspace();
  const navigate = useNavigate();
  const left = useSendHabits((habits) => habits.left);
  const isCurrent = useStore(store, (state) => state.recipe.weigh.kind === kind);
  /** Beside the source, under the wipe. */
  const look = () => {
    store.getState().change((recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) }));
    setWeighView({ compare: 'wipe', against: 'source' });
    void navigate(`/pieces/${pieceId}/weigh`);
  };
  return (
    <tr className={isCurrent ? classes.currentRow : classes.rowLine}>
      <td>
        <Checkbox
          size="xs"
          aria-label={`Send the ${fileKind(kind).name}`}
          checked={isSent}
          onChange={() =>
            setSendHabits({ left: isSent ? [...left, kind] : left.filter((one) => one !== kind) })
          }
        />
      </td>
      <td title={fileKind(kind).words(trial.recipe.weigh[kind])}>{fileKind(kind).name}</td>
      <td>
        {figures.width} × {figures.height}
      </td>
      <td>{formatBytes(figures.bytes)}</td>
      <td>
        <Likeness trial={trial} />
      </td>
      <td>{formatSeconds(loadTimeOf(figures, TOLD_LINE).firstSeconds)}</td>
      <td>{figures.durationMs > 0 ? formatSeconds(figures.durationMs / 1000) : 'still'}</td>
      <td>
        <div className={classes.rowTools}>
          <Anchor component="button" size="sm" onClick={look}>
            Compare
          </Anchor>
          <SaveLink file={file} isSmall />
        </div>
      </td>
    </tr>
  );
}

import { ActionIcon, Button } from '@mantine/core';
import { isUnnoticed, type JoinAdvice, type JointFault, joinOf, seamVerdict } from '@muted-pond/core/loop';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { nudgeEnd, setJoin } from '../../piece/loop-edits.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { FAULT_WORDS, VERDICT_WORDS } from '../../seam/seam-words.js';
import { shownRecipe } from '../../store/piece-store.js';
import classes from './loop.module.css';
import { toggleLook, useLoopView } from './loop-view.js';
import { useSeamNow } from './seam-now.js';
import { WeaveAdviceNote } from './WeaveAdviceNote.js';

/** The joint as it now stands, and what would make it better. */
export function SeamSection() {
  const { seams } = useWorkspace();
  const status = useStore(seams, (state) => state.status);
  const problem = useStore(seams, (state) => state.problem);
  const unmeasured = useStore(seams, (state) => state.unmeasured);
  const found = useStore(seams, (state) => state.found);
  const better = useStore(seams, (state) => state.better);
  const seam = useSeamNow();
  if (status === 'none') {
    return (
      <p className={classes.note}>Pictures follow each other as they are; there is no seam to measure.</p>
    );
  }
  if (status === 'failed' || unmeasured) {
    return (
      <p className={classes.note} role="alert">
        {unmeasured ? `The seam cannot be measured. ${unmeasured}` : problem}
      </p>
    );
  }
  if (status === 'reading' || !found) {
    return <p className={classes.note}>The footage is being read; its seams are looked for then.</p>;
  }
  if (!seam) return <p className={classes.note}>There is no reel to measure.</p>;
  if (seam === 'measuring') return <p className={classes.note}>The seam is being measured.</p>;
  if (seam === 'woven-later') {
    return <p className={classes.note}>Its seam is measured once it is woven.</p>;
  }
  const verdict = seamVerdict(seam.score);
  return (
    <>
      <div
        className={classes.seam}
        data-stale={seam.isStale || undefined}
        data-testid="seam"
        data-score={seam.score.toFixed(1)}
        data-fault={verdict === 'unnoticed' ? undefined : seam.fault}
        data-search-ms={found.searchMs.toFixed(0)}
      >
        <span className={classes.score} data-verdict={verdict}>
          {Math.round(seam.score)}
        </span>
        <span>
          <strong>seam score</strong> · {VERDICT_WORDS[verdict]}
          {verdict !== 'unnoticed' && <Fault fault={seam.fault} />}
        </span>
      </div>
      {better?.advice && !seam.isWoven && <Advice advice={better.advice} score={seam.score} />}
      <WeaveAdviceNote />
      <Nudges />
    </>
  );
}

/** What is seen of the joint; the stage shows where. */
function Fault({ fault }: { fault: JointFault }) {
  const isShown = useLoopView((view) => view.look === 'where');
  return (
    <>
      <br />
      {FAULT_WORDS[fault]}{' '}
      <button
        type="button"
        className={classes.where}
        aria-pressed={isShown}
        onClick={() => toggleLook('where')}
      >
        Point it out
      </button>
    </>
  );
}

/** What is proposed, and why. Nothing, where what is there is as good. */
function Advice({ advice, score }: { advice: JoinAdvice; score: number }) {
  const workspace = useWorkspace();
  const join = useStore(workspace.store, (state) => shownRecipe(state).loop.join);
  const isTaken = JSON.stringify(join) === JSON.stringify(advice.join);
  if (isTaken || advice.score < score + 2) {
    return !isUnnoticed(score) && !isUnnoticed(advice.score) ? (
      <p className={classes.note}>
        No way to join this span goes unnoticed. Try one of the other places, or a longer stretch before the
        start.
      </p>
    ) : null;
  }
  const reasons: Record<JoinAdvice['reason'], string> = {
    meets: 'The end meets the start:',
    'at-rest': 'What moves rests at both ends:',
    melts: 'No good cut here, but',
    flows: 'No good cut or crossfade here, but',
    woven: 'Woven, ',
    'best-there-is': 'No good cut here; at best,',
  };
  return (
    <div className={classes.advice}>
      <span>
        {reasons[advice.reason]} {joinOf(advice.join).words(advice.join)} scores{' '}
        <strong>{Math.round(advice.score)}</strong>.
      </span>
      <Button size="compact-sm" variant="light" onClick={() => setJoin(workspace, advice.join)}>
        Take it
      </Button>
    </div>
  );
}

/** Both sides of the joint, a source frame at a time. */
function Nudges() {
  const workspace = useWorkspace();
  const span = useStore(workspace.store, (state) => shownRecipe(state).span);
  const side = (which: 'end' | 'start', title: string, frame: number) => (
    <div className={classes.nudge}>
      <ActionIcon
        variant="default"
        size="sm"
        aria-label={`${which === 'end' ? 'End' : 'Start'} one frame earlier`}
        onClick={() => nudgeEnd(workspace, which, -1)}
      >
        <IconMinus size={14} />
      </ActionIcon>
      <span>
        {title} <strong>{frame}</strong>
      </span>
      <ActionIcon
        variant="default"
        size="sm"
        aria-label={`${which === 'end' ? 'End' : 'Start'} one frame later`}
        onClick={() => nudgeEnd(workspace, which, 1)}
      >
        <IconPlus size={14} />
      </ActionIcon>
    </div>
  );
  return (
    <div className={classes.nudges}>
      {side('end', 'end', span.end - 1)}
      {side('start', 'start', span.start)}
    </div>
  );
}

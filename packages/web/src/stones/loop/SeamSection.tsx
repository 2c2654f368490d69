import { ActionIcon, Button } from '@mantine/core';
import { GOOD_SEAM, type JoinAdvice, joinOf } from '@muted-pond/core/loop';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { nudgeEnd, setJoin } from '../../piece/loop-edits.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import classes from './loop.module.css';
import { useSeamNow } from './seam-now.js';
import { WeaveAdviceNote } from './WeaveAdviceNote.js';

/** Below this a joint is plain to see. */
const PLAIN = 60;

function seamWord(score: number): string {
  if (Math.round(score) >= GOOD_SEAM) return 'not noticed';
  if (score >= 80) return 'hardly noticed';
  return score >= PLAIN ? 'can be noticed' : 'plain to see';
}

/** The joint as it now stands, and what would make it better. */
export function SeamSection() {
  const { seams } = useWorkspace();
  const status = useStore(seams, (state) => state.status);
  const problem = useStore(seams, (state) => state.problem);
  const answer = useStore(seams, (state) => state.answer);
  const seam = useSeamNow();
  if (status === 'none') {
    return (
      <p className={classes.note}>Pictures follow each other as they are; there is no seam to measure.</p>
    );
  }
  if (status === 'failed') {
    return (
      <p className={classes.note} role="alert">
        {problem}
      </p>
    );
  }
  if (status === 'reading' || !answer) {
    return <p className={classes.note}>The footage is being read; its seams are looked for then.</p>;
  }
  const { advice, candidates } = answer;
  if (!seam) return <p className={classes.note}>There is no reel to measure.</p>;
  const bestCut = candidates.reduce((most, { score }) => Math.max(most, score), 0);
  if (seam === 'woven-later') {
    return <p className={classes.note}>Its seam is measured once it is woven.</p>;
  }
  const kind = Math.round(seam.score) >= GOOD_SEAM ? 'good' : seam.score >= PLAIN ? 'fair' : 'poor';
  return (
    <>
      <div
        className={classes.seam}
        data-stale={seam.isStale || undefined}
        data-testid="seam"
        data-score={seam.score.toFixed(1)}
        data-search-ms={answer.searchMs.toFixed(0)}
      >
        <span className={classes.score} data-kind={kind}>
          {Math.round(seam.score)}
        </span>
        <span>
          <strong>seam score</strong> · {seamWord(seam.score)}
          <br />
          {seam.isWoven ? 'largest step' : 'jump'} {seam.jump.toFixed(1)} × a usual step
        </span>
      </div>
      {advice && !seam.isWoven && <Advice advice={advice} score={seam.score} />}
      <WeaveAdviceNote bestCut={bestCut} />
      <Nudges />
    </>
  );
}

/** What is proposed, and why. Nothing, where what is there is as good. */
function Advice({ advice, score }: { advice: JoinAdvice; score: number }) {
  const workspace = useWorkspace();
  const join = useStore(workspace.store, (state) => shownRecipe(state).loop.join);
  const isTaken = JSON.stringify(join) === JSON.stringify(advice.join);
  if (isTaken || advice.score < score + 2) {
    return score < GOOD_SEAM && advice.score < GOOD_SEAM ? (
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

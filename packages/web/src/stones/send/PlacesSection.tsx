import { Anchor, Button, Checkbox, CopyButton, Progress } from '@mantine/core';
import type { PlaceView, SendingItem, SendingView, SendRequest } from '@muted-pond/core/api';
import { checkLimit } from '@muted-pond/core/recipe';
import { IconSend } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { useStore } from 'zustand';
import { keepNewest } from '../../api/newest.js';
import { beginSending, stopSending, usePracticeHost, useSending } from '../../api/practice-host.js';
import { keys } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { chooseLimit } from '../../trials/limit-choice.js';
import { overrunWords } from '../../trials/overrun-words.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { setWeighView } from '../../trials/weigh-view.js';
import { BankSection } from '../../ui/Bank.js';
import { MOOD_WORDS } from '../../ui/mood-words.js';
import { tellProblem } from '../../ui/notify.js';
import { WhyButton } from '../../ui/WhyButton.js';
import classes from './send.module.css';
import { setSendHabits, useSendHabits } from './send-habits.js';

/** Places of the practice host: which take the file as it is, and how far each sending is. */
export function PlacesSection() {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const host = usePracticeHost().data;
  const sending = useSending(pieceId).data ?? null;
  const { current } = useTrialsView();
  const title = useStore(store, (state) => state.name);
  const about = useStore(store, (state) => state.about);
  const { fits } = useSendHabits();
  const chosen = useChosenPlaces(host?.places ?? []);
  const file = current?.state === 'done' ? current : null;
  if (!host) return null;
  if (!host.url) {
    return (
      <BankSection title="Practice host">
        <p className={classes.refused}>{host.problem ?? 'The practice host is not running.'}</p>
      </BankSection>
    );
  }
  const set = (next: SendingView | null) => next && keepNewest(client, keys.sending(pieceId), next);
  const send = (places: readonly string[], more: Partial<SendRequest> = {}) => {
    if (!file) return;
    const request = { trial: file.id, places, fits, title, about, ...more };
    void beginSending(pieceId, request).then(set, tellProblem);
  };
  const isWorking = sending?.state === 'working';
  const why = !file
    ? 'The file of the present settings is not made yet; it is in a moment.'
    : chosen.length === 0
      ? 'Tick a place first.'
      : null;
  return (
    <BankSection title="Practice host">
      {host.problem && <p className={classes.about}>{host.problem}</p>}
      <ul className={classes.places}>
        {host.places.map((place) => (
          <PlaceRow key={place.id} place={place} isChosen={chosen.includes(place)} />
        ))}
      </ul>
      <Checkbox
        size="xs"
        className={classes.fits}
        label="Fit it first for places that would refuse it"
        checked={fits}
        onChange={(event) => setSendHabits({ fits: event.currentTarget.checked })}
      />
      {isWorking ? (
        <Button fullWidth variant="default" onClick={() => void stopSending(pieceId).then(set, tellProblem)}>
          Stop sending
        </Button>
      ) : (
        <WhyButton
          fullWidth
          color="deep.8"
          off={why}
          isTold
          leftSection={<IconSend size={16} />}
          onClick={() => send(chosen.map(({ id }) => id))}
        >
          {chosen.length > 1 ? `Send to ${chosen.length} places` : 'Send'}
        </WhyButton>
      )}
      {!isWorking && why && <p className={classes.about}>{why}</p>}
      {sending?.problem && <p className={classes.refused}>{sending.problem}</p>}
      <ul className={classes.sendings} aria-label="What was sent">
        {sending?.items.map((item) => (
          <SendingRow
            key={item.place}
            item={item}
            onGoOn={() => send([item.place])}
            onReplace={
              item.page && file && item.trial !== file.id && !isWorking
                ? () => send([item.place], { replaces: item.page?.id })
                : null
            }
          />
        ))}
      </ul>
      <Anchor component={Link} to="/practice-host" size="sm">
        All pages and places
      </Anchor>
    </BankSection>
  );
}

function useChosenPlaces(places: readonly PlaceView[]): readonly PlaceView[] {
  const ids = useSendHabits((habits) => habits.places);
  return places.filter(({ id }) => ids.includes(id));
}

function PlaceRow({ place, isChosen }: { place: PlaceView; isChosen: boolean }) {
  const { id, name, mood } = place;
  const { current } = useTrialsView();
  const ids = useSendHabits((habits) => habits.places);
  const figures = current?.state === 'done' ? current.figures : null;
  const over = figures ? checkLimit(place, figures) : [];
  return (
    <li>
      <Checkbox
        size="xs"
        label={name}
        checked={isChosen}
        onChange={() => setSendHabits({ places: isChosen ? ids.filter((one) => one !== id) : [...ids, id] })}
      />
      {mood !== 'fair' && <em className={classes.mood}>{MOOD_WORDS[mood].toLowerCase()}</em>}
      <span className={over.length === 0 ? classes.takes : classes.over}>
        {figures && (over.length === 0 ? 'takes it' : over.map(overrunWords).join(', '))}
      </span>
    </li>
  );
}

const STATE_WORDS: Record<SendingItem['state'], string> = {
  waiting: 'waiting',
  fitting: 'fitting',
  sending: 'sending',
  accepted: 'accepted',
  refused: 'refused',
  stopped: 'not all there',
  failed: 'did not work',
};

interface SendingRowProps {
  readonly item: SendingItem;
  readonly onGoOn: () => void;
  /** Null where the page shows the present file, or there is none. */
  readonly onReplace: (() => void) | null;
}

function SendingRow({ item, onGoOn, onReplace }: SendingRowProps) {
  const { pieceId } = useWorkspace();
  const navigate = useNavigate();
  const { placeName, state, done, doing, page, problem } = item;
  const isUnderWay = state === 'sending' || state === 'fitting';
  /** Weigh with this place's limit chosen; from there a click comes back. */
  const fitUnder = () => {
    chooseLimit(pieceId, item.place);
    setWeighView({ cameFrom: 'send' });
    void navigate(`/pieces/${pieceId}/weigh`);
  };
  return (
    <li data-state={state}>
      <p>
        <strong>{placeName || item.place}</strong> <span>{isUnderWay ? doing : STATE_WORDS[state]}</span>
      </p>
      {isUnderWay && (
        <Progress size="sm" color="lily" value={done * 100} aria-label={`On the way to ${placeName}`} />
      )}
      {page && (
        <p className={classes.links}>
          <Anchor href={page.page} target="_blank" rel="noreferrer" size="sm">
            Open the page
          </Anchor>
          <CopyLink text={page.page} label="Copy the link" />
          <CopyLink text={page.embed} label="Copy the embed" />
        </p>
      )}
      {onReplace && (
        <Button
          size="compact-xs"
          variant="default"
          title="The link and the embed stay as they are"
          onClick={onReplace}
        >
          Replace it with the present file
        </Button>
      )}
      {page?.note && <p className={classes.note}>{page.note}</p>}
      {problem && <p className={classes.note}>{problem}</p>}
      {state === 'refused' && item.over.length > 0 && (
        <Button size="compact-xs" variant="default" onClick={fitUnder}>
          Fit under it
        </Button>
      )}
      {(state === 'stopped' || state === 'failed') && (
        <Button size="compact-xs" variant="default" onClick={onGoOn}>
          Go on
        </Button>
      )}
    </li>
  );
}

function CopyLink({ text, label }: { text: string; label: string }) {
  return (
    <CopyButton value={text}>
      {({ copied, copy }) => (
        <Anchor component="button" size="sm" onClick={copy}>
          {copied ? 'Copied' : label}
        </Anchor>
      )}
    </CopyButton>
  );
}

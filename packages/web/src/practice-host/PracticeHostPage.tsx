import { Anchor, Button, CopyButton, Select } from '@mantine/core';
import {
  type HostPageChange,
  type HostPageView,
  LONGEST_TITLE,
  MOODS,
  type Mood,
} from '@muted-pond/core/api';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { changeHostPage, setMood, usePracticeHost } from '../api/practice-host.js';
import { keys } from '../api/queries.js';
import { formatBytes } from '../ui/format.js';
import { MOOD_WORDS } from '../ui/mood-words.js';
import { NameField } from '../ui/NameField.js';
import { tellProblem, tellWithUndo } from '../ui/notify.js';
import { PlainHead } from '../ui/PlainHead.js';
import plain from '../ui/plain-page.module.css';
import classes from './practice-host.module.css';

/** The places that loops can be sent to for practice, how each behaves, and what was sent there. */
export function PracticeHostPage() {
  const host = usePracticeHost().data;
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: keys.practiceHost });
  const change = (id: string, part: HostPageChange) => changeHostPage(id, part).then(again, tellProblem);
  const pages = host?.pages ?? [];
  const up = pages.filter(({ isDown }) => !isDown);
  const down = pages.filter(({ isDown }) => isDown);
  return (
    <>
      <PlainHead />
      <main className={plain.page}>
        <h1 className={plain.title}>Practice host</h1>
        <p className={plain.about}>
          A stand-in for the places that loops go to, on this machine alone. Its places keep the limits of the{' '}
          <Anchor component={Link} to="/limits">
            limits page
          </Anchor>
          , and can be told to behave badly, so that one learns what to do.
        </p>
        {host?.problem && (
          <p className={classes.problem} role="alert">
            {host.problem}
          </p>
        )}
        <section aria-label="Places" className={classes.places}>
          {host?.places.map(({ id, name, mood }) => (
            <div key={id} className={classes.place}>
              <strong>{name}</strong>
              <Select
                size="xs"
                w={160}
                aria-label={`How ${name} behaves`}
                allowDeselect={false}
                value={mood}
                onChange={(next) => next && void setMood(id, next as Mood).then(again, tellProblem)}
                data={MOODS.map((one) => ({ value: one, label: MOOD_WORDS[one] }))}
              />
            </div>
          ))}
        </section>
        <h2 className={classes.heading}>Pages</h2>
        {host && pages.length === 0 && (
          <p className={plain.about}>Nothing was sent yet. A piece’s last stone, Send, does that.</p>
        )}
        <div className={classes.pages}>
          {up.map((page) => (
            <PageCard
              key={page.id}
              page={page}
              onRename={(title) => void change(page.id, { title })}
              onTakeDown={() => {
                void change(page.id, { isDown: true });
                tellWithUndo(`“${page.title}” is taken down`, () => void change(page.id, { isDown: false }));
              }}
            />
          ))}
        </div>
        {down.length > 0 && (
          <>
            <h2 className={classes.heading}>Taken down</h2>
            <ul className={classes.down}>
              {down.map(({ id, title, placeName }) => (
                <li key={id}>
                  <span>
                    {title} · {placeName}
                  </span>
                  <Button
                    size="compact-sm"
                    variant="default"
                    onClick={() => void change(id, { isDown: false })}
                  >
                    Put it back
                  </Button>
                </li>
              ))}
            </ul>
          </>
        )}
      </main>
    </>
  );
}

interface PageCardProps {
  readonly page: HostPageView;
  readonly onRename: (title: string) => void;
  readonly onTakeDown: () => void;
}

function PageCard({ page, onRename, onTakeDown }: PageCardProps) {
  const { title, placeName, direct, width, height, bytes, mime, note, about } = page;
  return (
    <article className={classes.card}>
      <a href={page.page} target="_blank" rel="noreferrer" className={classes.picture}>
        {mime.startsWith('video/') ? (
          <video src={direct} autoPlay muted loop playsInline aria-label={about || title} />
        ) : (
          <img src={direct} alt={about || title} loading="lazy" />
        )}
      </a>
      <NameField label={`Title of ${title}`} name={title} most={LONGEST_TITLE} onEnter={onRename} />
      <p>
        {placeName} · {width} × {height} · {formatBytes(bytes)}
      </p>
      {note && <p className={classes.note}>{note}</p>}
      <div className={classes.tools}>
        <Anchor href={page.page} target="_blank" rel="noreferrer" size="sm">
          Open
        </Anchor>
        {(
          [
            ['Link', page.page],
            ['Embed', page.embed],
            ['File', direct],
          ] as const
        ).map(([label, text]) => (
          <CopyButton key={label} value={text}>
            {({ copied, copy }) => (
              <Anchor component="button" size="sm" onClick={copy} title={`Copy: ${text}`}>
                {copied ? 'Copied' : label}
              </Anchor>
            )}
          </CopyButton>
        ))}
        <Anchor component="button" size="sm" c="var(--rust)" onClick={onTakeDown}>
          Take down
        </Anchor>
      </div>
    </article>
  );
}

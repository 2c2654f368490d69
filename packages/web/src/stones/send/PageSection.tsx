import { Button, CopyButton, SegmentedControl, Textarea } from '@mantine/core';
import { MOST_ABOUT } from '@muted-pond/core/api';
import { CHECKERBOARD, pageOf, SNIPPET_WAYS, type SnippetName } from '@muted-pond/core/pages';
import { IconCheck, IconCopy } from '@tabler/icons-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { BankSection } from '../../ui/Bank.js';
import { tellProblem } from '../../ui/notify.js';
import { entriesOf } from './FilesSection.js';
import { savePackage } from './save-package.js';
import classes from './send.module.css';
import { setSendHabits } from './send-habits.js';
import { useSendView } from './send-view.js';
import { usePageChoice } from './use-snippet.js';

/** The words for a page, right as pasted, and a page to try them. */
export function PageSection() {
  const { store } = useWorkspace();
  const piece = useStore(store, (state) => state.name);
  const ground = useSendView((view) => view.ground);
  const choice = usePageChoice();
  const { way, ways, about, sent } = choice;
  const text = choice.snippet();
  const page = () =>
    pageOf({
      title: about,
      body: text,
      ground: { white: '#ffffff', dark: '#16211f', checkerboard: CHECKERBOARD }[ground],
    });
  return (
    <BankSection title="For a page">
      <AboutField />
      {way ? (
        <>
          <SegmentedControl
            fullWidth
            size="xs"
            aria-label="How the page shows it"
            value={way}
            onChange={(value) => setSendHabits({ way: value as SnippetName })}
            data={ways.map((value) => ({ value, label: SNIPPET_WAYS[value].name }))}
          />
          <p className={classes.about}>{SNIPPET_WAYS[way].about}.</p>
          <pre className={classes.snippet}>{text}</pre>
          <CopyButton value={text}>
            {({ copied, copy }) => (
              <Button
                variant="default"
                fullWidth
                onClick={copy}
                leftSection={copied ? <IconCheck size={16} /> : <IconCopy size={16} />}
              >
                {copied ? 'Copied' : 'Copy the snippet'}
              </Button>
            )}
          </CopyButton>
          <Button
            fullWidth
            variant="default"
            className={classes.more}
            onClick={() =>
              void savePackage(
                { files: entriesOf(sent), texts: [{ name: 'index.html', text: page() }] },
                `${piece}, page.zip`,
              ).catch(tellProblem)
            }
          >
            Page and files as a ZIP
          </Button>
        </>
      ) : (
        <p className={classes.about}>Make a kind that a page can show, below.</p>
      )}
    </BankSection>
  );
}

/** Asked for once, and kept with the piece. */
function AboutField() {
  const { store } = useWorkspace();
  const about = useStore(store, (state) => state.about);
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <Textarea
      className={classes.aboutField}
      size="sm"
      label="Alternative text"
      description="What is seen and what moves, in one sentence: “Steam rises from a copper kettle.” Not “a GIF of”."
      placeholder="What is to be seen"
      autosize
      minRows={1}
      maxRows={4}
      maxLength={MOST_ABOUT}
      value={typed ?? about}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={() => {
        if (typed !== null) store.getState().describe(typed);
        setTyped(null);
      }}
    />
  );
}

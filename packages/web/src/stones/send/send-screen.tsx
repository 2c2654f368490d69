import { Button, CopyButton, TextInput } from '@mantine/core';
import { IconCheck, IconCopy, IconDownload } from '@tabler/icons-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { trialFileUrl, useTrials } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { FootageStrip } from '../../stone/footage-screen.js';
import type { StoneScreen } from '../../stone/stone.js';
import { Making } from '../../trials/Making.js';
import { useTrialMaker, useTrialsView } from '../../trials/use-trials.js';
import { BankHead, BankSection, Facts } from '../../ui/Bank.js';
import { formatBytes, formatSeconds, playsWords } from '../../ui/format.js';
import { fileNameOf } from './file-name.js';
import classes from './send.module.css';
import { pageSnippet } from './snippet.js';

export const screen: StoneScreen = { Stage: SendStage, Bank: SendBank, Lower: FootageStrip };

/** The file as an image in a plain page, at its real size. One that is not made yet is made now. */
function SendStage() {
  const { pieceId } = useWorkspace();
  const view = useTrialsView();
  const { current } = view;
  const maker = useTrialMaker(view, useTrials(pieceId).isSuccess);
  const ready = current?.state === 'done' ? current : null;
  const problem = maker.problem ?? current?.problem;
  return (
    <div className={classes.page} data-testid="stage">
      {ready?.figures ? (
        <figure>
          <img
            src={trialFileUrl(ready.id)}
            width={ready.figures.width}
            height={ready.figures.height}
            alt="The file as it will play in a page"
          />
          <figcaption>as an image in a plain page</figcaption>
        </figure>
      ) : current?.progress ? (
        <div className={classes.notMade}>
          <Making trial={current} onCancel={() => maker.cancel(current.id)} />
        </div>
      ) : (
        <div className={classes.notMade}>
          <span>{problem ?? 'The file of these settings is not made yet.'}</span>
          <Button color="deep.8" onClick={maker.makeNow}>
            Make it now
          </Button>
        </div>
      )}
    </div>
  );
}

function SendBank() {
  const { store } = useWorkspace();
  const name = useStore(store, (state) => state.name);
  const plays = useStore(store, (state) => state.recipe.plays);
  const { current } = useTrialsView();
  const [typed, setTyped] = useState<string | null>(null);
  const fileName = fileNameOf(typed ?? name);
  const figures = current?.state === 'done' ? current.figures : null;
  return (
    <>
      <BankHead title="Send" about="The finished file, under a name, and the words for a page." />
      {current && figures ? (
        <>
          <BankSection title="File name">
            <TextInput
              aria-label="File name"
              value={typed ?? fileName}
              onChange={(event) => setTyped(event.currentTarget.value)}
              onBlur={() => typed !== null && setTyped(fileNameOf(typed))}
            />
            <Button
              className={classes.save}
              component="a"
              href={trialFileUrl(current.id, fileName)}
              download={fileName}
              fullWidth
              color="deep.8"
              leftSection={<IconDownload size={17} />}
            >
              Save {formatBytes(figures.bytes)}
            </Button>
            <Facts
              facts={[
                ['Kind', 'GIF'],
                ['Size', `${figures.width} × ${figures.height} px`],
                ['Length', formatSeconds(figures.durationMs / 1000)],
                ['Plays', playsWords(plays)],
              ]}
            />
          </BankSection>
          <BankSection title="For a page">
            <Snippet text={pageSnippet(fileName, name, figures)} />
          </BankSection>
        </>
      ) : (
        <p className={classes.about}>The file can be saved as soon as it is made.</p>
      )}
    </>
  );
}

function Snippet({ text }: { text: string }) {
  return (
    <>
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
    </>
  );
}

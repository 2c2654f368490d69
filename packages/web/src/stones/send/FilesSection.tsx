import { Button, TextInput } from '@mantine/core';
import { fileKind } from '@muted-pond/core/files';
import { NAME_FIELDS } from '@muted-pond/core/pages';
import { IconDownload } from '@tabler/icons-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { trialFileUrl, trialPictureUrl } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { BankSection, Facts } from '../../ui/Bank.js';
import { formatBytes, formatSeconds, playsWords } from '../../ui/format.js';
import { tellDone, tellProblem } from '../../ui/notify.js';
import { type KindFile, useKindFiles } from './kind-files.js';
import { savePackage } from './save-package.js';
import classes from './send.module.css';
import { setSendHabits, useSendHabits } from './send-habits.js';

/** What the files are called, and where they are saved. */
export function FilesSection() {
  const { store, session } = useWorkspace();
  const kind = useStore(store, (state) => state.recipe.weigh.kind);
  const piece = useStore(store, (state) => state.name);
  const plays = useStore(store, (state) => state.recipe.plays);
  const made = useKindFiles();
  const own = made.find((file) => file.kind === kind) ?? null;
  const sent = made.filter(({ isSent }) => isSent);
  const place = useStore(session, (state) => state.place);
  return (
    <BankSection title="Files">
      <NamePattern />
      {own ? (
        <>
          <SaveLink file={own} />
          <Facts
            facts={[
              ['Name', own.name],
              ['Size', `${own.figures.width} × ${own.figures.height} px`],
              ...factsOfMotion(own, plays),
            ]}
          />
          <Button
            fullWidth
            variant="default"
            className={classes.more}
            onClick={() => copyPicture(trialPictureUrl(own.trial.id, place))}
          >
            Copy frame {place} as a picture
          </Button>
        </>
      ) : (
        <p className={classes.about}>The file can be saved as soon as it is made.</p>
      )}
      {sent.length > 1 && (
        <Button
          fullWidth
          variant="default"
          className={classes.more}
          onClick={() =>
            void savePackage({ files: entriesOf(sent), texts: [] }, `${piece}.zip`).catch(tellProblem)
          }
        >
          Save {sent.length} kinds as a ZIP,{' '}
          {formatBytes(sent.reduce((sum, one) => sum + one.figures.bytes, 0))}
        </Button>
      )}
    </BankSection>
  );
}

/** How long it lasts and how often it is seen, as far as its kind has either. */
function factsOfMotion({ kind, figures }: KindFile, plays: number): [string, string][] {
  const { holds } = fileKind(kind);
  if (!holds.motion) return [];
  return [
    ['Length', formatSeconds(figures.durationMs / 1000)],
    ['Plays', holds.plays ? playsWords(plays) : 'as the page says'],
  ];
}

export function entriesOf(files: readonly KindFile[]) {
  return files.map(({ trial, name }) => ({ trial: trial.id, name }));
}

/** A pattern with fields; what it makes is seen in the file’s name. */
function NamePattern() {
  const pattern = useSendHabits((habits) => habits.pattern);
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <TextInput
      size="sm"
      label="Name"
      description={NAME_FIELDS.map((field) => `{${field}}`).join(' ')}
      value={typed ?? pattern}
      maxLength={120}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={() => {
        if (typed !== null && typed.trim() !== '') setSendHabits({ pattern: typed.trim() });
        setTyped(null);
      }}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}

/** Saves with a click; can be dragged out of the page to where it is wanted. */
export function SaveLink({ file, isSmall = false }: { file: KindFile; isSmall?: boolean }) {
  const { trial, name, figures } = file;
  const url = trialFileUrl(trial.id, name);
  return (
    <Button
      className={isSmall ? undefined : classes.save}
      component="a"
      href={url}
      download={name}
      draggable
      onDragStart={(event) => {
        const whole = new URL(url, window.location.href).href;
        event.dataTransfer.setData('DownloadURL', `application/octet-stream:${name}:${whole}`);
        event.dataTransfer.setData('text/uri-list', whole);
      }}
      title={`Save ${name}, or drag it out of the page`}
      fullWidth={!isSmall}
      size={isSmall ? 'compact-xs' : 'sm'}
      variant={isSmall ? 'default' : 'filled'}
      color="deep.8"
      leftSection={isSmall ? undefined : <IconDownload size={17} />}
    >
      {isSmall ? 'Save' : `Save ${formatBytes(figures.bytes)}`}
    </Button>
  );
}

async function copyPicture(url: string): Promise<void> {
  try {
    const picture = fetch(url).then((response) => response.blob());
    await navigator.clipboard.write([new ClipboardItem({ 'image/png': picture })]);
    tellDone('The picture is on the clipboard.');
  } catch {
    tellProblem(
      'This browser did not take the picture. Open this page over https or at localhost, and try again.',
    );
  }
}

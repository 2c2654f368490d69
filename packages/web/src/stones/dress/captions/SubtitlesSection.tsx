import { Button, FileButton, Radio } from '@mantine/core';
import { modals } from '@mantine/modals';
import {
  CAPTION_LIMITS,
  type Caption,
  decodeText,
  placeSubtitles,
  readSubtitles,
  writeSubtitles,
} from '@muted-pond/core/dress';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useState } from 'react';
import { usePieceLoop } from '../../../piece/piece-loop.js';
import { useTake } from '../../../piece/piece-take.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { BankSection } from '../../../ui/Bank.js';
import { tellDone, tellProblem } from '../../../ui/notify.js';
import { saveText } from '../../../ui/save-text.js';
import classes from '../dress.module.css';
import { withDress } from '../dress-edits.js';

import { useDressEdits, useDressPart } from '../use-dress.js';

const MOST_BYTES = 4 * 1024 ** 2;

/** Subtitle files in and out. @param like the caption whose looks new ones take. */
export function SubtitlesSection({ like }: { like: Caption | null }) {
  const { store } = useWorkspace();
  const { loop } = usePieceLoop();
  const take = useTake();
  const { change } = useDressEdits();
  const captions = useDressPart('captions');
  if (!loop) return null;
  const lay = (on: 'reel' | 'footage', text: string, readNotes: readonly string[]) => {
    const read = readSubtitles(text);
    const room = CAPTION_LIMITS.captions.max - captions.length;
    const placed = placeSubtitles(read.entries, on, { reel: loop.reel, times: take.times }, like, room);
    const fresh = placed.captions.map((one) => ({ ...one, id: crypto.randomUUID() }));
    if (fresh.length > 0) {
      change((recipe) => withDress(recipe, { captions: [...recipe.dress.captions, ...fresh] }));
    }
    const notes = [...readNotes, ...read.notes, ...placed.notes];
    const words = fresh.length === 1 ? '1 caption was laid' : `${fresh.length} captions were laid`;
    tellDone(`${words} on the loop`, notes.join(' '));
  };
  const bring = async (file: File | null) => {
    if (!file) return;
    try {
      if (file.size > MOST_BYTES)
        throw new Error(`“${file.name}” is larger than the 4 MiB that can be read.`);
      const { text, note } = decodeText(new Uint8Array(await file.arrayBuffer()));
      readSubtitles(text);
      askWhere((on) => lay(on, text, note ? [note] : []));
    } catch (error) {
      tellProblem(error);
    }
  };
  const save = (form: 'srt' | 'vtt') =>
    saveText(
      writeSubtitles(captions, form, reelCentiseconds(loop.reel)),
      `${store.getState().name}.${form}`,
      form === 'vtt' ? 'text/vtt' : 'application/x-subrip',
    );
  return (
    <BankSection title="Subtitle files">
      <div className={classes.pair}>
        <FileButton accept=".srt,.vtt,text/vtt" onChange={(file) => void bring(file)}>
          {(props) => (
            <Button {...props} size="compact-sm" variant="default">
              Bring .srt or .vtt
            </Button>
          )}
        </FileButton>
        {captions.length > 0 && (
          <>
            <Button size="compact-sm" variant="default" onClick={() => save('srt')}>
              Save .srt
            </Button>
            <Button size="compact-sm" variant="default" onClick={() => save('vtt')}>
              Save .vtt
            </Button>
          </>
        )}
      </div>
    </BankSection>
  );
}

function askWhere(onAnswer: (on: 'reel' | 'footage') => void): void {
  modals.open({
    title: 'What do its times count from?',
    centered: true,
    children: (
      <WhereForm
        onAnswer={(on) => {
          modals.closeAll();
          onAnswer(on);
        }}
      />
    ),
  });
}

function WhereForm({ onAnswer }: { onAnswer: (on: 'reel' | 'footage') => void }) {
  const [on, setOn] = useState<'reel' | 'footage'>('footage');
  return (
    <>
      <Radio.Group value={on} onChange={(value) => setOn(value as 'reel' | 'footage')}>
        <Radio
          className={classes.spread}
          value="footage"
          label="The footage"
          description="Entries come where their part of the footage is seen"
        />
        <Radio
          className={classes.spread}
          value="reel"
          label="The loop"
          description="The first frame of the loop is 0 s"
        />
      </Radio.Group>
      <Button fullWidth mt="md" onClick={() => onAnswer(on)}>
        Lay them on the loop
      </Button>
    </>
  );
}

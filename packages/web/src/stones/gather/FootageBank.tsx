import { Button, FileButton, SegmentedControl } from '@mantine/core';
import type { FootageSource } from '@muted-pond/core/recipe';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { IconAlertTriangle, IconReplace, IconScissors } from '@tabler/icons-react';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { MOVING_FILES } from '../../shelf/file-kinds.js';
import { BankHead, BankSection, Card, Facts } from '../../ui/Bank.js';
import { formatBytes, formatRate, formatSeconds, ordinal } from '../../ui/format.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import classes from './gather.module.css';
import { kindName } from './kind-names.js';
import { replaceFile } from './replace-file.js';

/** What arrived, what was done about it, and how much of it is taken. */
export function FootageBank({ source }: { source: FootageSource }) {
  const workspace = useWorkspace();
  const { footage } = useTake();
  if (!footage) return null;
  return (
    <>
      <BankHead title="Gather" about="What arrived, and what was done to show it right." />
      <BankSection title={footage.name}>
        {footage.problem && (
          <p className={classes.breaksOff} role="alert">
            <IconAlertTriangle size={16} aria-hidden="true" />
            <span>
              The file is <strong>{footage.problem} on the disk</strong>. Bring the same file in again on the
              shelf, and all that is made from it is whole.
            </span>
          </p>
        )}
        {footage.breaksOff && <BreaksOff words={footage.breaksOff} />}
        <Card>
          <Facts
            facts={[
              ['Size', `${footage.width} × ${footage.height} px`],
              ['Length', formatSeconds(footage.seconds)],
              ['Frames', String(footage.frameCount)],
              [
                'Frame rate',
                `${formatRate(footage.frameRate)} fps${footage.variableRate ? ', varying' : ''}`,
              ],
              ['Kind', kindName(footage)],
              ['Weight', formatBytes(footage.bytes)],
            ]}
          />
        </Card>
      </BankSection>
      <BankSection title="What was done">
        <ul className={classes.notes}>
          {footage.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      </BankSection>
      <BankSection title="Frames taken">
        <EveryNth every={source.every} />
      </BankSection>
      <BankSection title="A better version">
        <FileButton
          accept={MOVING_FILES}
          onChange={(file) => file && void replaceFile(workspace, footage.id, file)}
        >
          {(props) => (
            <Button {...props} variant="default" fullWidth leftSection={<IconReplace size={16} />}>
              Put another file in its place
            </Button>
          )}
        </FileButton>
        <p className={classes.about}>Span, crop and all settings stay; undo brings the old file back.</p>
      </BankSection>
    </>
  );
}

/** A file that ends too soon: what it holds can be used, and that is said first. */
export function BreaksOff({ words }: { words: string }) {
  return (
    <p className={classes.breaksOff}>
      <IconScissors size={16} aria-hidden="true" />
      <span>
        The file is not whole: <strong>{words}</strong>. What it holds can be used; bring it in whole to have
        the rest.
      </span>
    </p>
  );
}

function EveryNth({ every }: { every: number }) {
  const { store } = useWorkspace();
  const { min, max } = RECIPE_LIMITS.every;
  const setEvery = (wanted: number) =>
    store.getState().change((recipe) => {
      const [source] = recipe.sources;
      return source.kind === 'footage' ? { ...recipe, sources: [{ ...source, every: wanted }] } : recipe;
    });
  return (
    <>
      <div className={classes.every}>
        <SegmentedControl
          size="xs"
          aria-label="Frames taken"
          value={[1, 2, 3].includes(every) ? String(every) : ''}
          onChange={(value) => setEvery(Number(value))}
          data={[
            { value: '1', label: 'all' },
            { value: '2', label: '2nd' },
            { value: '3', label: '3rd' },
          ]}
        />
        <span>or every</span>
        <NumberEntry label="Take every so many frames" value={every} min={min} max={max} onEnter={setEvery} />
      </div>
      <p className={classes.about}>
        {every === 1
          ? 'All frames of the span. The range is chosen in Cut.'
          : `The span’s first frame and then every ${ordinal(every)}, each shown until the next: the length stays.`}
      </p>
    </>
  );
}

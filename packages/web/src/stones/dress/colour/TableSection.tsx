import { Button, FileButton } from '@mantine/core';
import { COLOUR_LIMITS, colourFunctions, inTurn, writeCube } from '@muted-pond/core/colour';
import { IconDownload, IconUpload } from '@tabler/icons-react';
import { useState } from 'react';
import { fetchTable, putLayerFile } from '../../../api/layers.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { BankSection } from '../../../ui/Bank.js';
import { tellProblem } from '../../../ui/notify.js';
import { saveText } from '../../../ui/save-text.js';
import classes from '../dress.module.css';
import { withColour } from '../dress-edits.js';
import { LiveSlider } from '../LiveSlider.js';
import { useDressEdits, useShown } from '../use-dress.js';

/** A colour table of one's own in the .cube form, read and written. */
export function TableSection() {
  const { store } = useWorkspace();
  const { change } = useDressEdits();
  const table = useShown(({ dress }) => dress.colour.table);
  const [busy, setBusy] = useState(false);
  const bring = async (file: File | null) => {
    if (!file) return;
    setBusy(true);
    try {
      const { hash } = await putLayerFile(file, file.name, 'table');
      const name = file.name.replace(/\.cube$/i, '').slice(0, 120) || 'Table';
      change((recipe) => withColour(recipe, { table: { hash, name, strength: 100 } }));
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  const save = async () => {
    try {
      const { name, recipe } = store.getState();
      const { colour } = recipe.dress;
      const cube = colour.table ? await fetchTable(colour.table.hash) : null;
      const { grade, look } = colourFunctions(colour, cube);
      const change = inTurn([grade, look]) ?? (() => {});
      saveText(writeCube(change, name), `${name}.cube`, 'text/plain');
    } catch (error) {
      tellProblem(error);
    }
  };
  return (
    <BankSection title="Colour table">
      {table ? (
        <>
          <p className={classes.file}>
            <strong>{table.name}</strong>
            <Button
              size="compact-xs"
              variant="subtle"
              onClick={() => change((recipe) => withColour(recipe, { table: null }))}
            >
              Take away
            </Button>
          </p>
          <LiveSlider
            label="Strength"
            unit=" %"
            value={({ dress }) => dress.colour.table?.strength ?? 0}
            bounds={COLOUR_LIMITS.strength}
            edit={(recipe, strength) => {
              const now = recipe.dress.colour.table;
              return withColour(recipe, { table: now && { ...now, strength } });
            }}
          />
        </>
      ) : null}
      <div className={classes.pair}>
        <FileButton accept=".cube" onChange={(file) => void bring(file)}>
          {(props) => (
            <Button
              {...props}
              size="compact-sm"
              variant="default"
              loading={busy}
              leftSection={<IconUpload size={14} />}
            >
              {table ? 'Another .cube' : 'Bring a .cube'}
            </Button>
          )}
        </FileButton>
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconDownload size={14} />}
          onClick={() => void save()}
        >
          Save as .cube
        </Button>
      </div>
    </BankSection>
  );
}

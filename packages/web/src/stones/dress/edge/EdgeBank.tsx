import { Button, FileButton, Switch } from '@mantine/core';
import { ANCHORS, BORDER_LIMITS, EMBLEM_LIMITS, type Emblem } from '@muted-pond/core/dress';
import type { Matte } from '@muted-pond/core/pixels';
import { IconUpload } from '@tabler/icons-react';
import { useState } from 'react';
import { putLayerFile } from '../../../api/layers.js';
import { BankSection } from '../../../ui/Bank.js';
import { tellDone, tellProblem } from '../../../ui/notify.js';
import { Colour } from '../Colour.js';
import classes from '../dress.module.css';
import { addEntry, changeEntry, withDress } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import { EntryList } from '../EntryList.js';
import { LiveSlider } from '../LiveSlider.js';
import { TimeSection } from '../TimeSection.js';
import { useDressEdits, useDressPart } from '../use-dress.js';
import { newEmblem } from './emblem-edits.js';
import { ShapeSection } from './ShapeSection.js';

/** What runs along the frame, and what is laid on it: border, corners, another shape, emblems. */
export function EdgeBank() {
  return (
    <>
      <BorderSection />
      <ShapeSection />
      <EmblemsSection />
    </>
  );
}

function BorderSection() {
  const { change } = useDressEdits();
  const border = useDressPart('border');
  const corners = useDressPart('corners');
  return (
    <BankSection title="Border and corners">
      <Switch
        size="xs"
        label="A border on every frame"
        checked={border !== null}
        onChange={() =>
          change((recipe) => withDress(recipe, { border: border ? null : { width: 2, colour: '#16302e' } }))
        }
      />
      {border && (
        <>
          <LiveSlider
            label="Width"
            unit=" px"
            value={({ dress }) => dress.border?.width ?? 1}
            bounds={{ min: BORDER_LIMITS.width.min, max: 40 }}
            hint="Pixels of the finished file"
            edit={(recipe, width) =>
              withDress(recipe, { border: { colour: recipe.dress.border?.colour ?? '#16302e', width } })
            }
          />
          <Colour
            label="Colour of the border"
            value={border.colour}
            onChange={(colour) => change((recipe) => withDress(recipe, { border: { ...border, colour } }))}
          />
        </>
      )}
      <Switch
        className={classes.spread}
        size="xs"
        label="Round corners"
        checked={corners !== null}
        onChange={() =>
          change((recipe) =>
            withDress(recipe, { corners: corners ? null : { radius: 16, fill: 'transparent' } }),
          )
        }
      />
      {corners && (
        <>
          <LiveSlider
            label="Radius"
            unit=" px"
            value={({ dress }) => dress.corners?.radius ?? 1}
            bounds={{ min: BORDER_LIMITS.radius.min, max: 160 }}
            hint="Pixels of the finished file"
            edit={(recipe, radius) =>
              withDress(recipe, { corners: { fill: recipe.dress.corners?.fill ?? 'transparent', radius } })
            }
          />
          <Switch
            size="xs"
            label="Clear beside them"
            checked={corners.fill === 'transparent'}
            onChange={({ currentTarget }) => {
              const fill: Matte = currentTarget.checked ? 'transparent' : '#ffffff';
              change((recipe) => withDress(recipe, { corners: { ...corners, fill } }));
            }}
          />
          {corners.fill !== 'transparent' && (
            <Colour
              label="Colour beside the corners"
              value={corners.fill}
              onChange={(fill) =>
                change((recipe) => withDress(recipe, { corners: { ...corners, fill: fill as Matte } }))
              }
            />
          )}
        </>
      )}
    </BankSection>
  );
}

function EmblemsSection() {
  const { change } = useDressEdits();
  const emblems = useDressPart('emblems');
  const chosenId = useDressView((view) => view.chosen);
  const [busy, setBusy] = useState(false);
  const chosen = emblems.find((one) => one.id === chosenId);
  const bring = async (file: File | null) => {
    if (!file) return;
    setBusy(true);
    try {
      const { hash, notes } = await putLayerFile(file, file.name, 'emblem');
      const id = crypto.randomUUID();
      change((recipe) => addEntry(recipe, 'emblems', newEmblem(id, file.name, hash)));
      setDressView({ chosen: id });
      if (notes.length > 0) tellDone('The emblem is laid on', notes.join(' '));
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <BankSection title="Emblem">
        {emblems.length > 0 && (
          <EntryList
            list="emblems"
            label="Emblems, the highest first"
            names={Object.fromEntries(emblems.map(({ id, name }) => [id, name]))}
          />
        )}
        <FileButton
          accept=".png,.webp,.jpg,.jpeg,.svg,image/png,image/webp,image/jpeg,image/svg+xml"
          onChange={(file) => void bring(file)}
        >
          {(props) => (
            <Button
              {...props}
              size="compact-sm"
              variant="default"
              loading={busy}
              leftSection={<IconUpload size={14} />}
            >
              {emblems.length > 0 ? 'Another picture' : 'Lay a picture on'}
            </Button>
          )}
        </FileButton>
      </BankSection>
      {chosen && <EmblemSection key={chosen.id} emblem={chosen} />}
    </>
  );
}

const ANCHOR_NAMES = ANCHORS.map((anchor) => [anchor, anchor.replace('-', ' ')] as const);

function EmblemSection({ emblem }: { emblem: Emblem }) {
  const { change } = useDressEdits();
  const { id } = emblem;
  const slider = (
    label: string,
    unit: string,
    name: 'margin' | 'width' | 'turn' | 'opacity',
    bounds: { min: number; max: number } = EMBLEM_LIMITS[name],
  ) => (
    <LiveSlider
      label={label}
      unit={unit}
      value={() => emblem[name]}
      bounds={bounds}
      edit={(recipe, value) => changeEntry(recipe, 'emblems', id, { [name]: value })}
    />
  );
  return (
    <BankSection title={emblem.name}>
      <div className={classes.anchorRow}>
        <span>Held at</span>
        <div className={classes.anchors}>
          {ANCHOR_NAMES.map(([anchor, name]) => (
            <button
              key={anchor}
              type="button"
              className={classes.anchor}
              aria-label={`Held at the ${name}`}
              title={name}
              aria-pressed={emblem.anchor === anchor}
              onClick={() => change((recipe) => changeEntry(recipe, 'emblems', id, { anchor }))}
            />
          ))}
        </div>
      </div>
      {slider('Margin', ' %', 'margin', { min: 0, max: 40 })}
      {slider('Width', ' %', 'width', { min: 1, max: 100 })}
      {slider('Turn', '°', 'turn')}
      {slider('Opacity', ' %', 'opacity')}
      <TimeSection
        time={emblem.time}
        onChange={(time) => change((recipe) => changeEntry(recipe, 'emblems', id, { time }))}
      />
    </BankSection>
  );
}

import { SegmentedControl, Switch, Textarea } from '@mantine/core';
import {
  ALIGNMENTS,
  type Alignment,
  CAPTION_LIMITS,
  type Caption,
  type CaptionStyle,
  cleanText,
} from '@muted-pond/core/dress';
import { useState } from 'react';
import { BankSection } from '../../../ui/Bank.js';
import { NumberEntry } from '../../../ui/NumberEntry.js';
import { Colour } from '../Colour.js';
import classes from '../dress.module.css';
import { changeEntry, changeStyle } from '../dress-edits.js';
import { LiveSlider } from '../LiveSlider.js';
import { TimeSection } from '../TimeSection.js';
import { useDressEdits } from '../use-dress.js';
import { FontChoice } from './FontChoice.js';
import { useMissingLetters } from './use-fonts.js';

const ALIGNMENT_NAMES: Record<Alignment, string> = { left: 'Left', centre: 'Centre', right: 'Right' };

/** All that is set of one caption. */
export function CaptionSection({ caption }: { caption: Caption }) {
  const { change, preview, keep } = useDressEdits();
  const { id, style, text } = caption;
  const [notes, setNotes] = useState<readonly string[]>([]);
  const missing = useMissingLetters(caption);
  const setStyle = (part: Partial<CaptionStyle>) => change((recipe) => changeStyle(recipe, id, part));
  const type = (typed: string) => {
    const clean = cleanText(typed);
    setNotes(clean.notes);
    return clean.text;
  };
  const slider = (
    label: string,
    unit: string,
    value: number,
    bounds: { min: number; max: number },
    edit: (value: number) => Partial<CaptionStyle>,
    step = 1,
  ) => (
    <LiveSlider
      label={label}
      unit={unit}
      value={() => value}
      bounds={bounds}
      step={step}
      edit={(recipe, next) => changeStyle(recipe, id, edit(next))}
    />
  );
  return (
    <>
      <BankSection title="Words">
        <Textarea
          aria-label="Words of the caption"
          autosize
          minRows={1}
          maxRows={6}
          value={text}
          onChange={({ currentTarget }) => {
            const next = type(currentTarget.value);
            preview((recipe) => changeEntry(recipe, 'captions', id, { text: next }));
          }}
          onBlur={() => keep((recipe) => recipe)}
        />
        {[
          ...notes,
          ...(missing.length > 0
            ? [`No font here has ${missing.map((one) => `“${one}”`).join(', ')}; left out.`]
            : []),
        ].map((note) => (
          <p key={note} className={classes.warning} role="status">
            {note}
          </p>
        ))}
        <FontChoice font={style.font} onChange={(font) => setStyle({ font })} />
        {slider('Size', ' %', style.size, CAPTION_LIMITS.size, (size) => ({ size }), 0.5)}
        <Colour label="Colour" value={style.colour} onChange={(colour) => setStyle({ colour })} />
        <SegmentedControl
          className={classes.spread}
          size="xs"
          fullWidth
          aria-label="How lines are aligned"
          value={style.align}
          onChange={(align) => setStyle({ align: align as Alignment })}
          data={ALIGNMENTS.map((value) => ({ value, label: ALIGNMENT_NAMES[value] }))}
        />
        {text.includes('\n') &&
          slider(
            'Lines',
            '',
            style.lineHeight,
            CAPTION_LIMITS.lineHeight,
            (lineHeight) => ({ lineHeight }),
            0.05,
          )}
        {slider('Spacing', ' %', style.spacing, { min: -10, max: 40 }, (spacing) => ({ spacing }))}
      </BankSection>
      <BankSection title="When">
        <TimeSection
          time={caption.time}
          onChange={(time) => change((recipe) => changeEntry(recipe, 'captions', id, { time }))}
        />
        {caption.time && (
          <div className={classes.line}>
            <span>Comes and goes over</span>
            <NumberEntry
              label="Time to come and to go"
              value={caption.fadeCs / 100}
              max={CAPTION_LIMITS.fadeCs.max / 100}
              decimals={2}
              suffix=" s"
              onEnter={(s) =>
                change((recipe) => changeEntry(recipe, 'captions', id, { fadeCs: Math.round(s * 100) }))
              }
            />
          </div>
        )}
      </BankSection>
      <BankSection title="Behind the letters">
        <Switch
          size="xs"
          label="Outline"
          checked={style.outline !== null}
          onChange={() => setStyle({ outline: style.outline ? null : { width: 7, colour: '#16302e' } })}
        />
        {style.outline && (
          <>
            {slider(
              'Width',
              ' %',
              style.outline.width,
              CAPTION_LIMITS.outline,
              (width) => ({
                outline: { colour: style.outline?.colour ?? '#16302e', width },
              }),
              0.5,
            )}
            <Colour
              label="Colour of the outline"
              value={style.outline.colour}
              onChange={(colour) => setStyle({ outline: { width: style.outline?.width ?? 7, colour } })}
            />
          </>
        )}
        <Switch
          size="xs"
          label="Box"
          checked={style.box !== null}
          onChange={() =>
            setStyle({ box: style.box ? null : { colour: '#16302e', opacity: 70, padding: 35, corner: 20 } })
          }
        />
        {style.box && <BoxFields box={style.box} slider={slider} onChange={(box) => setStyle({ box })} />}
        <Switch
          size="xs"
          label="Soft shadow"
          checked={style.shadow !== null}
          onChange={() => setStyle({ shadow: style.shadow ? null : { colour: '#0f282b', strength: 80 } })}
        />
        {style.shadow &&
          slider('Darkness', ' %', style.shadow.strength, CAPTION_LIMITS.opacity, (strength) => ({
            shadow: { colour: style.shadow?.colour ?? '#0f282b', strength },
          }))}
      </BankSection>
    </>
  );
}

type Slider = (
  label: string,
  unit: string,
  value: number,
  bounds: { min: number; max: number },
  edit: (value: number) => Partial<CaptionStyle>,
) => React.ReactNode;

interface BoxFieldsProps {
  readonly box: NonNullable<CaptionStyle['box']>;
  readonly slider: Slider;
  readonly onChange: (box: NonNullable<CaptionStyle['box']>) => void;
}

function BoxFields({ box, slider, onChange }: BoxFieldsProps) {
  return (
    <>
      <Colour
        label="Colour of the box"
        value={box.colour}
        onChange={(colour) => onChange({ ...box, colour })}
      />
      {slider('Opacity', ' %', box.opacity, CAPTION_LIMITS.opacity, (opacity) => ({
        box: { ...box, opacity },
      }))}
      {slider('Room', ' %', box.padding, { min: 0, max: 120 }, (padding) => ({ box: { ...box, padding } }))}
      {slider('Corners', ' %', box.corner, { min: 0, max: 120 }, (corner) => ({ box: { ...box, corner } }))}
    </>
  );
}

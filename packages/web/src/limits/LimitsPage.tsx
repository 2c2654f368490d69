import { ActionIcon, Button, Checkbox, MultiSelect, NumberInput } from '@mantine/core';
import type { LimitValues } from '@muted-pond/core/api';
import { FILE_KIND_IDS, type FileKindId, fileKind } from '@muted-pond/core/files';
import { type Limit, RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { useLimitChanges, useLimits } from '../api/limits.js';
import { NameField } from '../ui/NameField.js';
import { tellProblem, tellWithUndo } from '../ui/notify.js';
import { PlainHead } from '../ui/PlainHead.js';
import page from '../ui/plain-page.module.css';
import classes from './limits.module.css';

const FRESH: LimitValues = {
  ...{ name: 'New destination', width: 480, height: null, bytes: 500_000 },
  ...{ seconds: null, frameRate: null, alpha: false, kinds: null },
};

/** What destinations accept, each a line that can be changed. */
export function LimitsPage() {
  const limits = useLimits();
  const { create, put, remove } = useLimitChanges();
  return (
    <>
      <PlainHead />
      <main className={page.page}>
        <h1 className={page.title}>Limits</h1>
        <p className={page.about}>
          What the places that loops go to accept. Every file is checked against them, and Fit makes files
          that keep them. An empty field accepts anything.
        </p>
        <table className={classes.table}>
          <thead>
            <tr>
              <th>destination</th>
              <th>weight</th>
              <th>width</th>
              <th>height</th>
              <th>length</th>
              <th>frame rate</th>
              <th>transparency</th>
              <th>kinds</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {limits.map((limit) => (
              <LimitRow
                key={limit.id}
                limit={limit}
                onChange={(next) => put.mutate(next, { onError: tellProblem })}
                onDelete={() => {
                  remove.mutate(limit.id, { onError: tellProblem });
                  tellWithUndo(`“${limit.name}” is no longer a limit`, () =>
                    put.mutate(limit, { onError: tellProblem }),
                  );
                }}
              />
            ))}
          </tbody>
        </table>
        <Button
          color="deep"
          leftSection={<IconPlus size={16} />}
          onClick={() => create.mutate(FRESH, { onError: tellProblem })}
        >
          Add a destination
        </Button>
      </main>
    </>
  );
}

interface LimitRowProps {
  readonly limit: Limit;
  readonly onChange: (limit: Limit) => void;
  readonly onDelete: () => void;
}

function LimitRow({ limit, onChange, onDelete }: LimitRowProps) {
  const { name, width, height, bytes, seconds, frameRate, alpha, kinds } = limit;
  const set = (part: Partial<Limit>) => onChange({ ...limit, ...part });
  const side = { min: RECIPE_LIMITS.width.min, max: RECIPE_LIMITS.side.max };
  return (
    <tr>
      <td>
        <NameField label={`Name of ${name}`} name={name} most={60} onEnter={(next) => set({ name: next })} />
      </td>
      <td>
        <Field
          label={`Weight that ${name} accepts, KB`}
          value={bytes / 1000}
          unit=" KB"
          min={1}
          max={1e6}
          onEnter={(kilobytes) => kilobytes !== null && set({ bytes: Math.round(kilobytes * 1000) })}
        />
      </td>
      <td>
        <Field
          label={`Width that ${name} accepts, px`}
          value={width}
          unit=" px"
          {...side}
          onEnter={(next) => next !== null && set({ width: next })}
        />
      </td>
      <td>
        <Field
          label={`Height that ${name} accepts, px`}
          value={height}
          unit=" px"
          {...side}
          onEnter={(next) => set({ height: next })}
        />
      </td>
      <td>
        <Field
          label={`Length that ${name} accepts, seconds`}
          value={seconds}
          unit=" s"
          min={0.1}
          max={3600}
          decimals={1}
          onEnter={(next) => set({ seconds: next })}
        />
      </td>
      <td>
        <Field
          label={`Frame rate that ${name} accepts`}
          value={frameRate}
          unit=" fps"
          {...RECIPE_LIMITS.frameRate}
          onEnter={(next) => set({ frameRate: next })}
        />
      </td>
      <td className={classes.middle}>
        <Checkbox
          color="lily"
          aria-label={`${name} accepts transparent files`}
          checked={alpha}
          onChange={(event) => set({ alpha: event.currentTarget.checked })}
        />
      </td>
      <td>
        <MultiSelect
          size="xs"
          className={classes.kinds}
          aria-label={`Kinds that ${name} accepts`}
          placeholder={kinds === null ? 'any' : undefined}
          value={[...(kinds ?? [])]}
          onChange={(next) => set({ kinds: next.length > 0 ? (next as FileKindId[]) : null })}
          data={FILE_KIND_IDS.map((id) => ({ value: id, label: fileKind(id).name }))}
        />
      </td>
      <td>
        <ActionIcon variant="subtle" color="deep" aria-label={`Delete ${name}`} onClick={onDelete}>
          <IconTrash size={17} />
        </ActionIcon>
      </td>
    </tr>
  );
}

interface FieldProps {
  readonly label: string;
  /** Null: anything. */
  readonly value: number | null;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly decimals?: number;
  readonly onEnter: (value: number | null) => void;
}

/** A number that may be left open; it counts when it is left. */
function Field({ label, value, unit, min, max, decimals = 0, onEnter }: FieldProps) {
  const [typed, setTyped] = useState<number | string>(value ?? '');
  useEffect(() => setTyped(value ?? ''), [value]);
  return (
    <NumberInput
      aria-label={label}
      className={classes.field}
      size="xs"
      hideControls
      placeholder="any"
      suffix={unit}
      decimalScale={decimals}
      value={typed}
      onChange={setTyped}
      onBlur={() => {
        const next = typed === '' ? null : Math.max(min, Math.min(max, Number(typed)));
        if (next !== value) onEnter(next);
        // What cannot be left open shows again what holds.
        setTyped(value ?? '');
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setTyped(value ?? '');
      }}
    />
  );
}

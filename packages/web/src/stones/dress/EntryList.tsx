import { ActionIcon } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconCopy, IconEye, IconEyeOff, IconTrash } from '@tabler/icons-react';
import { tellWithUndo } from '../../ui/notify.js';
import classes from './dress.module.css';
import { changeEntry, duplicateEntry, type ListName, moveEntry, removeEntry } from './dress-edits.js';
import { setDressView, useDressView } from './dress-view.js';
import { useDressEdits, useDressPart } from './use-dress.js';

interface EntryListProps {
  readonly list: ListName;
  readonly label: string;
  /** What stands in a line. */
  readonly names: Readonly<Record<string, string>>;
}

/** Captions, emblems or veils, the highest first, with what can be done to each. */
export function EntryList({ list, label, names }: EntryListProps) {
  const { change } = useDressEdits();
  const entries = useDressPart(list);
  const chosen = useDressView((view) => view.chosen);
  const remove = (id: string) => {
    const before = entries;
    change((recipe) => removeEntry(recipe, list, id));
    tellWithUndo(`“${names[id]}” was taken away`, () =>
      change((recipe) => ({ ...recipe, dress: { ...recipe.dress, [list]: before } })),
    );
  };
  return (
    <ul className={classes.entries} aria-label={label}>
      {[...entries].reverse().map(({ id, shown }) => {
        const name = names[id];
        return (
          <li key={id} className={classes.entry} data-chosen={chosen === id || undefined}>
            <button
              type="button"
              className={classes.entryName}
              aria-pressed={chosen === id}
              data-hidden={!shown || undefined}
              onClick={() => setDressView({ chosen: chosen === id ? null : id })}
            >
              {name}
            </button>
            {chosen === id && (
              <>
                <Act
                  icon={IconArrowUp}
                  label={`“${name}” higher`}
                  onClick={() => change((recipe) => moveEntry(recipe, list, id, 1))}
                />
                <Act
                  icon={IconArrowDown}
                  label={`“${name}” lower`}
                  onClick={() => change((recipe) => moveEntry(recipe, list, id, -1))}
                />
                <Act
                  icon={IconCopy}
                  label={`“${name}” once more`}
                  onClick={() => {
                    const copy = crypto.randomUUID();
                    change((recipe) => duplicateEntry(recipe, list, id, copy));
                    setDressView({ chosen: copy });
                  }}
                />
                <Act icon={IconTrash} label={`Take “${name}” away`} onClick={() => remove(id)} />
              </>
            )}
            <Act
              icon={shown ? IconEye : IconEyeOff}
              label={shown ? `Hide “${name}”` : `Show “${name}”`}
              onClick={() => change((recipe) => changeEntry(recipe, list, id, { shown: !shown }))}
            />
          </li>
        );
      })}
    </ul>
  );
}

function Act({
  icon: Picture,
  label,
  onClick,
}: {
  icon: typeof IconEye;
  label: string;
  onClick: () => void;
}) {
  return (
    <ActionIcon size={24} variant="subtle" color="deep" aria-label={label} title={label} onClick={onClick}>
      <Picture size={15} stroke={1.8} aria-hidden="true" />
    </ActionIcon>
  );
}

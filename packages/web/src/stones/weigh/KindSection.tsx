import { Select } from '@mantine/core';
import { FILE_KIND_IDS, type FileKindId, fileKind } from '@muted-pond/core/files';
import { changeWeigh } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useHealth } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import classes from './weigh.module.css';

/** What is made of the loop; kinds that this machine cannot make say so. */
export function KindSection() {
  const { store } = useWorkspace();
  const kind = useStore(store, (state) => state.recipe.weigh.kind);
  const missing = useHealth().data?.missingKinds ?? {};
  const choose = (id: FileKindId) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, { kind: id }) }));
  return (
    <section aria-label="Kind of file" className={classes.kind}>
      <Select
        size="sm"
        aria-label="Kind of file"
        allowDeselect={false}
        value={kind}
        onChange={(id) => id && choose(id as FileKindId)}
        data={FILE_KIND_IDS.map((id) => ({
          value: id,
          label: fileKind(id).name,
          disabled: missing[id] !== undefined,
        }))}
      />
      <p className={classes.ownPace}>{missing[kind] ?? `${capital(fileKind(kind).about)}.`}</p>
    </section>
  );
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

import { Button } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { useState } from 'react';
import { useWorkspace } from '../../piece/workspace-context.js';
import { tellDone, tellProblem } from '../../ui/notify.js';
import classes from './dress.module.css';
import { type Copied, copiedNow, copiedWords, copy, laidOn } from './dress-clipboard.js';
import { setDressView, useDressView } from './dress-view.js';
import { useDressEdits, useDressPart } from './use-dress.js';

/** The chosen caption or emblem, or the whole dress, from piece to piece. */
export function CopySection() {
  const { store } = useWorkspace();
  const { change } = useDressEdits();
  const captions = useDressPart('captions');
  const emblems = useDressPart('emblems');
  const chosen = useDressView((view) => view.chosen);
  const [copied, setCopied] = useState(copiedNow);
  const caption = captions.find((one) => one.id === chosen);
  const emblem = emblems.find((one) => one.id === chosen);
  const take = () => {
    const from = store.getState().name;
    const next: Copied = caption
      ? { type: 'captions', from, entry: caption }
      : emblem
        ? { type: 'emblems', from, entry: emblem }
        : { type: 'dress', from, dress: store.getState().recipe.dress };
    copy(next);
    setCopied(next);
    tellDone(`Copied: ${copiedWords(next)}`, 'Open another piece’s Dress to lay it on.');
  };
  const lay = () => {
    const now = copiedNow();
    if (!now) return;
    const id = crypto.randomUUID();
    const laid = laidOn(store.getState().recipe, now, () => id);
    if (!laid) {
      tellProblem(
        'What was copied does not fit here: this piece has all it can hold, or it is of another version.',
      );
      return;
    }
    change(() => laid);
    if (now.type !== 'dress')
      setDressView({ chosen: id, tab: now.type === 'captions' ? 'captions' : 'edge' });
  };
  useHotkeys([
    ['mod+C', take],
    ['mod+V', lay],
  ]);
  return (
    <div className={classes.copy}>
      <Button size="compact-sm" variant="subtle" onClick={take}>
        {caption ? 'Copy this caption' : emblem ? 'Copy this emblem' : 'Copy the whole dress'}
      </Button>
      {copied && (
        <Button size="compact-sm" variant="subtle" onClick={lay}>
          Lay on {copiedWords(copied)}
        </Button>
      )}
    </div>
  );
}

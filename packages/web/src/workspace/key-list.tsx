import { modals } from '@mantine/modals';
import { Key } from '../ui/Key.js';
import classes from './workspace.module.css';

/** Keys that are built, and what they do. */
const KEYS: readonly (readonly [keys: readonly string[], does: string])[] = [
  [['Space'], 'play or stop'],
  [['←', '→'], 'one frame back or on; with Shift ten'],
  [['S'], 'the span starts at this frame'],
  [['E'], 'the span ends with this frame'],
  [['1', '…', '7'], 'the seven stones'],
  [['T'], 'make the file now (Weigh, Send)'],
  [['Ctrl', 'Z'], 'undo; with Shift redo'],
  [['Esc'], 'let go of a handle without moving it'],
  [['?'], 'this list'],
];

export function showKeys(): void {
  modals.open({
    title: 'Keys',
    centered: true,
    children: (
      <dl className={classes.keyList}>
        {KEYS.map(([keys, does]) => (
          <div key={does} style={{ display: 'contents' }}>
            <dt>
              {keys.map((key) => (
                <Key key={key}>{key}</Key>
              ))}
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    ),
  });
}

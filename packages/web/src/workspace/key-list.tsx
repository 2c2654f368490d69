import { modals } from '@mantine/modals';
import { Key } from '../ui/Key.js';
import classes from './workspace.module.css';

/** Keys that are built, and what they do. */
const KEYS: readonly (readonly [keys: readonly string[], does: string])[] = [
  [['Space'], 'play or stop'],
  [['←', '→'], 'one frame back or on; with Shift ten'],
  [['↑', '↓'], 'the strip closer or wider; Home shows all of it'],
  [['S'], 'where the strip is: the span starts at this frame'],
  [['E'], 'where the strip is: the span ends with this frame'],
  [['1', '…', '7'], 'the seven stones'],
  [['G'], 'Loop: the last frame as a ghost over the first; Still: the plate over the reel'],
  [['D'], 'Loop: what differs between them'],
  [['L'], 'Loop: play only the joint'],
  [['Del'], 'Loop, Reel: remove the chosen frames; Ctrl A chooses all, Alt ← → moves them'],
  [['M'], 'Still: the muted view, or plain'],
  [['X'], 'Still: stir or calm; − and = make the brush smaller or larger'],
  [
    ['Alt', '←', '→'],
    'Still, Weigh: move the picture while it is close; the wheel comes closer, Home shows all of it',
  ],
  [['U'], 'Dress: the loop without its dress'],
  [
    ['←', '↑', '→', '↓'],
    'Dress: nudge the caption, emblem or veil that has the focus; with Shift further; Enter types',
  ],
  [['Ctrl', 'C'], 'Dress: copy the chosen caption or emblem, or the whole dress; Ctrl V lays it on'],
  [['C'], 'Weigh: while it is held, what the file is compared with'],
  [['P'], 'Weigh: pin the shown trial, or let it go'],
  [['T'], 'make the file now (Weigh, Send)'],
  [['Ctrl', 'Z'], 'undo; with Shift redo'],
  [['Esc'], 'let go of a handle without moving it'],
  [['Shift'], 'while dragging a handle: pass the marks it stops at'],
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

import type { Size } from '@muted-pond/core/pixels';
import type { ReactNode } from 'react';
import type { PieceTake } from '../piece/piece-take.js';
import { type DrawWay, drawnSize, type Layer } from './draw.js';
import { fillRoom } from './fill-room.js';
import classes from './stage.module.css';
import { TakeCanvas } from './TakeCanvas.js';

export interface SideBySideEnd {
  readonly title: string;
  readonly layers: readonly Layer[];
  readonly words: ReactNode;
  /** The one that the hand moves. */
  readonly held: boolean;
}

interface SideBySideProps {
  readonly take: PieceTake;
  readonly way: DrawWay;
  readonly room: Size;
  readonly ends: readonly SideBySideEnd[];
}

/** Room between the two, and for the words beneath them, px. */
const GAP = 18;
const WORDS = 30;

/** Two frames side by side, each as large as there is room. */
export function SideBySide({ take, way, room, ends }: SideBySideProps) {
  const shown = fillRoom(drawnSize(way), { width: (room.width - GAP) / 2, height: room.height - WORDS });
  return (
    <div className={classes.ends}>
      {ends.map(({ title, layers, words, held }) => (
        <figure key={title} className={held ? classes.heldEnd : classes.otherEnd}>
          <div style={shown}>
            <TakeCanvas
              take={take}
              layers={layers}
              way={way}
              label={`The ${title} frame, ${layers[0].frame}`}
            />
          </div>
          <figcaption>
            <strong>{title}</strong> {words}
          </figcaption>
        </figure>
      ))}
    </div>
  );
}

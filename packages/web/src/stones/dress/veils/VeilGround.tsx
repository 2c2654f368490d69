import { type ShareRect, type Veil, veilAt } from '@muted-pond/core/dress';
import { type KeyboardEvent, type PointerEvent as ReactPointerEvent, useRef } from 'react';
import { useWorkspace } from '../../../piece/workspace-context.js';
import type { StageGround } from '../../../stage/StageRoom.js';
import { arrowStep, CORNERS } from '../arrow-step.js';
import { changeEntry } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import classes from '../ground.module.css';
import { useDressPart } from '../use-dress.js';
import { placedAt } from './veil-edits.js';
import { rectOnShown, rectOnTake } from './veil-ground-place.js';

interface VeilGroundProps {
  readonly way: StageGround['way'];
  readonly shown: StageGround['shown'];
  /** Of the take, on the stage. */
  readonly frame: number;
}

type Part = 'all' | (typeof CORNERS)[number];

/** Veils under the hand: moving or sizing one sets a key at the frame on the stage. */
export function VeilGround({ way, shown, frame }: VeilGroundProps) {
  const veils = useDressPart('veils');
  return (
    <div className={classes.ground} onPointerDown={() => setDressView({ chosen: null })}>
      {veils.map((veil) => {
        const at = veilAt(veil, frame);
        return at && <VeilBlock key={veil.id} veil={veil} at={at} way={way} shown={shown} frame={frame} />;
      })}
    </div>
  );
}

function VeilBlock({ veil, at, way, shown, frame }: VeilGroundProps & { veil: Veil; at: ShareRect }) {
  const { store, session } = useWorkspace();
  const isChosen = useDressView((view) => view.chosen === veil.id);
  const drag = useRef<{ part: Part; x: number; y: number; from: ShareRect } | null>(null);
  const rect = rectOnShown(way, at, shown);
  const put = (next: ShareRect) => {
    const on = rectOnTake(way, next, shown);
    return (recipe: Parameters<typeof changeEntry>[0]) => {
      const now = recipe.dress.veils.find((one) => one.id === veil.id);
      return now ? changeEntry(recipe, 'veils', veil.id, placedAt(now, frame, on)) : recipe;
    };
  };
  const take = (part: Part) => (event: ReactPointerEvent<HTMLElement>) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    session.getState().setPlaying(false);
    setDressView({ chosen: veil.id });
    drag.current = { part, x: event.clientX, y: event.clientY, from: rect };
  };
  const move = (event: ReactPointerEvent<HTMLElement>) => {
    const held = drag.current;
    if (!held) return;
    event.stopPropagation();
    const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
    if (Math.hypot(dx, dy) >= 1) store.getState().preview(put(draggedBy(held.from, held.part, dx, dy)));
  };
  const drop = (event: ReactPointerEvent<HTMLElement>) => {
    event.stopPropagation();
    drag.current = null;
    store.getState().keepDraft();
  };
  const press = (event: KeyboardEvent<HTMLElement>) => {
    const arrow = arrowStep(event);
    if (arrow) store.getState().change(put(draggedBy(rect, 'all', ...arrow)));
    else if (event.key === 'Escape') setDressView({ chosen: null });
    else return;
    event.preventDefault();
    event.nativeEvent.stopPropagation();
  };
  const hands = { onPointerMove: move, onPointerUp: drop, onPointerCancel: drop };
  return (
    // biome-ignore lint/a11y/useSemanticElements: it holds handles of its own
    <div
      role="button"
      tabIndex={0}
      className={classes.block}
      data-shape={veil.shape}
      data-chosen={isChosen || undefined}
      aria-label={veil.name}
      aria-pressed={isChosen}
      style={{ left: rect.x, top: rect.y, width: rect.width, height: rect.height }}
      onPointerDown={take('all')}
      {...hands}
      onFocus={() => setDressView({ chosen: veil.id })}
      onKeyDown={press}
    >
      {isChosen &&
        CORNERS.map((corner) => (
          <span
            key={corner}
            className={classes.corner}
            data-corner={corner}
            onPointerDown={take(corner)}
            {...hands}
          />
        ))}
    </div>
  );
}

/** Smaller than this, px, it cannot be taken hold of. */
const LEAST = 8;

export function draggedBy(from: ShareRect, part: Part, dx: number, dy: number): ShareRect {
  if (part === 'all') return { ...from, x: from.x + dx, y: from.y + dy };
  const isLeft = part.endsWith('w');
  const isTop = part.startsWith('n');
  const width = Math.max(LEAST, from.width + (isLeft ? -dx : dx));
  const height = Math.max(LEAST, from.height + (isTop ? -dy : dy));
  return {
    x: isLeft ? from.x + from.width - width : from.x,
    y: isTop ? from.y + from.height - height : from.y,
    width,
    height,
  };
}

import {
  DndContext,
  type DragMoveEvent,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useHotkeys } from '@mantine/hooks';
import type { LoopReel, ReelItem } from '@muted-pond/core/loop';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, type RefObject, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { usePieceLoop } from '../piece/piece-loop.js';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { FramePicture } from '../strip/StripPictures.js';
import strip from '../strip/strip.module.css';
import { formatSeconds } from '../ui/format.js';
import classes from './reel.module.css';
import { chosenRefs, itemAt, moveBefore, moveChosen, removeFrames, wrapped } from './reel-actions.js';
import { choosePlaces, chosenAfter, keyOf, useReelSelection } from './reel-selection.js';

/** Width of a frame on the strip, px, with its gap. */
const CELL = 96;
/** Near the strip's ends, a share of its width, it scrolls while frames are dragged. */
const EDGE = { threshold: { x: 0.06, y: 0 } };

interface ReelStripProps {
  readonly tools: ReactNode;
  /** Frames can be removed and moved here; else it is only looked at and stepped through. */
  readonly editable?: boolean;
}

/** The reel frame by frame, wrapped round so that the joint lies in its middle. */
export function ReelStrip({ tools, editable = true }: ReelStripProps) {
  const { loop, problem } = usePieceLoop();
  return (
    <section className={`${strip.strip} ${classes.reel}`} aria-label="Reel">
      <div className={strip.head}>
        <strong>Reel</strong>
        {loop && (
          <span>
            {loop.round} frames · {formatSeconds(reelCentiseconds(loop.reel.slice(0, loop.round)) / 100)} a
            round
          </span>
        )}
        <span className={strip.headRight}>{tools}</span>
      </div>
      {loop ? <Frames loop={loop} editable={editable} /> : <p className={classes.note}>{problem}</p>}
    </section>
  );
}

function Frames({ loop, editable }: { loop: LoopReel; editable: boolean }) {
  const workspace = useWorkspace();
  const chosen = useReelSelection((state) => state.chosen);
  const scroller = useRef<HTMLElement>(null);
  const order = wrapped(loop.round);
  const joint = order.indexOf(0);
  const virtual = useVirtualizer({
    horizontal: true,
    count: order.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => CELL,
    overscan: 6,
  });
  useFollowing(loop, joint, virtual.scrollToIndex);
  useSteadyJoint(joint, scroller);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [drop, setDrop] = useState<Drop | null>(null);
  const scrolledAtStart = useRef(0);
  const { items } = loop;

  useHotkeys(
    editable
      ? [
          [
            'mod+A',
            () =>
              choosePlaces(
                items,
                items.map((_, place) => place),
              ),
          ],
          ['Delete', () => removeFrames(workspace, chosenRefs(items, chosen), false)],
          ['Backspace', () => removeFrames(workspace, chosenRefs(items, chosen), false)],
          ['alt+ArrowLeft', () => moveChosen(workspace, chosen, -1)],
          ['alt+ArrowRight', () => moveChosen(workspace, chosen, 1)],
          ['Escape', () => choosePlaces(items, [])],
        ]
      : [],
  );

  const dropAt = ({ activatorEvent, delta }: DragMoveEvent): Drop => {
    const box = (scroller.current as HTMLElement).getBoundingClientRect();
    // What is dragged counts the scrolling since it was taken up.
    const x = (activatorEvent as PointerEvent).clientX + delta.x - box.left + scrolledAtStart.current;
    const boundary = Math.max(0, Math.min(order.length, Math.round(x / CELL)));
    // At the joint, the side of the pointer says whether it is the reel's end or its beginning.
    if (boundary === joint)
      return { left: boundary * CELL, before: x < joint * CELL ? null : (items[0] ?? null) };
    const place = order[boundary % order.length];
    return { left: boundary * CELL, before: items[itemAt(loop, place)] ?? null };
  };

  return (
    <DndContext
      sensors={sensors}
      autoScroll={EDGE}
      onDragStart={({ active }) => {
        scrolledAtStart.current = scroller.current?.scrollLeft ?? 0;
        const place = Number(active.id);
        if (!useReelSelection.getState().chosen.has(keyOf(items[place]))) choosePlaces(items, [place]);
      }}
      onDragMove={(event) => setDrop(dropAt(event))}
      onDragCancel={() => setDrop(null)}
      onDragEnd={(event) => {
        const { before } = dropAt(event);
        const refs = chosenRefs(items, useReelSelection.getState().chosen);
        if (!before || !useReelSelection.getState().chosen.has(keyOf(before)))
          moveBefore(workspace, refs, before);
        setDrop(null);
      }}
    >
      <section
        className={classes.scroller}
        ref={scroller}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keys too
        tabIndex={0}
        aria-label="The reel, as far as one scrolls"
        data-testid="reel"
      >
        <div
          className={classes.cells}
          style={{ width: virtual.getTotalSize() }}
          role="listbox"
          aria-multiselectable="true"
          aria-label="Frames of the reel"
        >
          {virtual.getVirtualItems().map(({ index, start }) => (
            <Cell key={index} loop={loop} place={order[index]} left={start} editable={editable} />
          ))}
          <div
            className={classes.joint}
            style={{ left: joint * CELL }}
            title="Here the last frame meets the first"
          />
          {drop && <div className={classes.drop} style={{ left: drop.left }} />}
        </div>
      </section>
      <DragOverlay dropAnimation={null}>
        {drop && (
          <span className={classes.dragged}>{chosen.size === 1 ? '1 frame' : `${chosen.size} frames`}</span>
        )}
      </DragOverlay>
    </DndContext>
  );
}

interface Drop {
  /** Where the mark stands, px. */
  readonly left: number;
  /** The item that the frames go before; null is the end. */
  readonly before: ReelItem | null;
}

/** Begins with the joint in the middle; then what is stepped to comes into sight. */
function useFollowing(
  loop: LoopReel,
  joint: number,
  scrollTo: (index: number, how: { align: 'center' | 'auto' }) => void,
) {
  const { session } = useWorkspace();
  const { round } = loop;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the strip appears
  useEffect(() => scrollTo(joint, { align: 'center' }), []);
  useEffect(
    () =>
      session.subscribe((now, before) => {
        if (now.playing || now.place === before.place) return;
        scrollTo((now.place + joint) % round, { align: 'auto' });
      }),
    [session, joint, round, scrollTo],
  );
}

/** Frames come and go on both sides of the joint; what lies around it stays where it is on the screen. */
function useSteadyJoint(joint: number, scroller: RefObject<HTMLElement | null>) {
  const last = useRef(joint);
  useLayoutEffect(() => {
    scroller.current?.scrollBy({ left: (joint - last.current) * CELL });
    last.current = joint;
  }, [joint, scroller]);
}

interface CellProps {
  readonly loop: LoopReel;
  readonly place: number;
  readonly left: number;
  readonly editable: boolean;
}

function Cell({ loop, place, left, editable }: CellProps) {
  const { session } = useWorkspace();
  const take = useTake();
  const origin = itemAt(loop, place);
  const isBack = place !== origin;
  const item = loop.items[origin];
  const isChosen = useReelSelection((state) => editable && state.chosen.has(keyOf(item)));
  const isShown = useStore(session, (state) => state.place === place);
  const { setNodeRef, listeners } = useDraggable({ id: place, disabled: isBack || !editable });
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: ←, → and the keys of the strip reach every frame
    <div
      ref={setNodeRef}
      {...listeners}
      className={classes.cell}
      style={{ left, width: CELL }}
      role="option"
      tabIndex={-1}
      aria-selected={isChosen}
      aria-label={`Frame ${place + 1} of the reel: source frame ${item.source}, ${item.delayCs / 100} s`}
      data-back={isBack || undefined}
      data-shown={isShown || undefined}
      onClick={(event) => {
        const way = event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'add' : 'only';
        useReelSelection.setState((state) => chosenAfter(state, loop.items, origin, way));
        session.getState().setPlaying(false);
        session.getState().seekReel(place, item.source);
      }}
    >
      <div className={classes.cellPicture}>
        <FramePicture take={take} frame={item.source} />
        {item.blend && (
          <div className={classes.mixed} style={{ opacity: item.blend.share }}>
            <FramePicture take={take} frame={item.blend.source} />
          </div>
        )}
      </div>
      <span className={classes.cellWords}>
        <strong>{item.source}</strong> {item.delayCs / 100} s
        {isBack ? ' · back' : item.copy > 0 && !item.blend ? ' · copy' : item.blend ? ' · mix' : ''}
      </span>
    </div>
  );
}

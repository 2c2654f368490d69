import { type Caption, cleanText } from '@muted-pond/core/dress';
import type { Rect, Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import {
  type KeyboardEvent,
  type PointerEvent as ReactPointerEvent,
  useEffect,
  useRef,
  useState,
} from 'react';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { LaidBlock } from '../../workers/compose-work.js';
import { arrowStep, CORNERS } from './arrow-step.js';
import { changeEntry, changeStyle } from './dress-edits.js';
import { setDressView, useDressView } from './dress-view.js';
import { moveEmblem, sizeEmblem } from './edge/emblem-edits.js';
import classes from './ground.module.css';
import { type Guide, SAFE_MARGIN, snapBlock } from './snap-block.js';
import { useDressEdits, useDressPart } from './use-dress.js';

/** Within so many px of the screen, a dragged block is caught. */
const CAUGHT = 8;
/** A step of an arrow key, a share of the frame. */
const NUDGE = 0.002;

interface OverlayGroundProps {
  /** The picture on the screen, px. */
  readonly shown: Size;
  /** The composed frame that blocks are counted in. */
  readonly frame: Size;
  readonly blocks: readonly LaidBlock[];
}

/** Captions and emblems under the hand: chosen, dragged, sized by their corners, typed into. */
export function OverlayGround({ shown, frame, blocks }: OverlayGroundProps) {
  const captions = useDressPart('captions');
  const emblems = useDressPart('emblems');
  const [guides, setGuides] = useState<readonly Guide[]>([]);
  const chosen = useDressView((view) => view.chosen);
  const typing = useDressView((view) => view.typing);
  /** The caption that has the focus once its words are typed. */
  const [refocused, setRefocused] = useState<string | null>(null);
  const scale = shown.width / frame.width;
  const all = [...captions, ...emblems];
  const typed = captions.find(({ id }) => id === typing) ?? null;
  const typedBlock = blocks.find(({ id }) => id === typing);
  return (
    <div className={classes.ground} onPointerDown={() => setDressView({ chosen: null })}>
      {guides.length > 0 && <div className={classes.safe} style={{ inset: `${SAFE_MARGIN * 100}%` }} />}
      {guides.map(({ axis, at }) => (
        <div
          key={`${axis} ${at}`}
          className={axis === 'x' ? classes.guideDown : classes.guideAcross}
          style={axis === 'x' ? { left: `${at * 100}%` } : { top: `${at * 100}%` }}
        />
      ))}
      {blocks
        .filter(({ id }) => id !== typing && all.some((one) => one.id === id && one.shown))
        .map((block) => {
          const caption = captions.find((one) => one.id === block.id) ?? null;
          return (
            <Block
              key={block.id}
              caption={caption}
              block={block}
              scale={scale}
              shown={shown}
              isChosen={chosen === block.id}
              takesFocus={refocused === block.id}
              onGuides={setGuides}
            />
          );
        })}
      {typed && (
        <TypeHere
          key={typed.id}
          caption={typed}
          rect={typedBlock ? scaled(typedBlock, scale) : guessedRect(typed, shown)}
          onDone={(isLeft) => {
            setRefocused(isLeft ? null : typed.id);
            setDressView({ typing: null });
          }}
        />
      )}
    </div>
  );
}

interface BlockProps {
  /** Null for an emblem. */
  readonly caption: Caption | null;
  readonly block: LaidBlock;
  readonly scale: number;
  readonly shown: Size;
  readonly isChosen: boolean;
  /** It has the focus as soon as it is there. */
  readonly takesFocus: boolean;
  readonly onGuides: (guides: readonly Guide[]) => void;
}

function Block({ caption, block, scale, shown, isChosen, takesFocus, onGuides }: BlockProps) {
  const { store } = useWorkspace();
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (takesFocus) element.current?.focus();
  }, [takesFocus]);
  const drag = useRef<{
    readonly x: number;
    readonly y: number;
    readonly from: Rect;
    readonly recipe: Recipe;
  } | null>(null);
  const rect = scaled(block, scale);
  const frame = { width: shown.width, height: shown.height };
  const { id } = block;

  /** The recipe with the block's middle moved by so many px of the screen. */
  const movedBy = (recipe: Recipe, from: Recipe, dx: number, dy: number): Recipe => {
    const start = from.dress.captions.find((one) => one.id === id);
    if (start) {
      return changeEntry(recipe, 'captions', id, {
        x: clamp(start.x + dx / shown.width),
        y: clamp(start.y + dy / shown.height),
      });
    }
    return moveEmblem(recipe, from, id, { dx, dy }, shown);
  };
  const sizedBy = (recipe: Recipe, from: Recipe, factor: number): Recipe => {
    const start = from.dress.captions.find((one) => one.id === id);
    if (start) return changeStyle(recipe, id, { size: Math.max(1, Math.min(60, start.style.size * factor)) });
    return sizeEmblem(recipe, from, id, factor);
  };

  const take = (event: ReactPointerEvent<HTMLElement>) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setDressView({ chosen: id, tab: caption ? 'captions' : 'edge' });
    drag.current = { x: event.clientX, y: event.clientY, from: rect, recipe: store.getState().recipe };
  };
  const move = (event: ReactPointerEvent<HTMLElement>) => {
    const start = drag.current;
    if (!start) return;
    const [dx, dy] = [event.clientX - start.x, event.clientY - start.y];
    if (Math.hypot(dx, dy) < 2) return;
    const wanted = { ...start.from, x: start.from.x + dx, y: start.from.y + dy };
    const caught = event.shiftKey ? { dx: 0, dy: 0, guides: [] } : snapBlock(wanted, frame, CAUGHT);
    onGuides(caught.guides);
    store.getState().preview((recipe) => movedBy(recipe, start.recipe, dx + caught.dx, dy + caught.dy));
  };
  const size = (event: ReactPointerEvent<HTMLElement>) => {
    const start = drag.current;
    if (!start) return;
    const middle = { x: start.from.x + start.from.width / 2, y: start.from.y + start.from.height / 2 };
    const box = event.currentTarget.closest(`.${classes.ground}`)?.getBoundingClientRect();
    if (!box) return;
    const far = (x: number, y: number) => Math.hypot(x - box.left - middle.x, y - box.top - middle.y);
    const factor = far(event.clientX, event.clientY) / Math.max(1, far(start.x, start.y));
    store.getState().preview((recipe) => sizedBy(recipe, start.recipe, factor));
  };
  const drop = () => {
    drag.current = null;
    onGuides([]);
    store.getState().keepDraft();
  };
  const press = (event: KeyboardEvent<HTMLElement>) => {
    const way = arrowStep(event);
    if (way) {
      const { recipe, change } = store.getState();
      change((now) => movedBy(now, recipe, NUDGE * way[0] * shown.width, NUDGE * way[1] * shown.height));
    } else if (event.key === 'Enter' && caption) setDressView({ typing: id });
    else if (event.key === 'Escape') setDressView({ chosen: null });
    else return;
    event.preventDefault();
    event.nativeEvent.stopPropagation();
  };
  const label = caption ? `Caption “${caption.text.slice(0, 40)}”` : 'Emblem';
  const style = { left: rect.x, top: rect.y, width: rect.width, height: rect.height };
  return (
    // biome-ignore lint/a11y/useSemanticElements: it holds buttons of its own
    <div
      ref={element}
      role="button"
      tabIndex={0}
      className={classes.block}
      data-chosen={isChosen || undefined}
      aria-label={label}
      aria-pressed={isChosen}
      style={style}
      onPointerDown={take}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={drop}
      onDoubleClick={() => caption && setDressView({ typing: id })}
      onFocus={() => setDressView({ chosen: id })}
      onKeyDown={press}
    >
      {isChosen &&
        CORNERS.map((corner) => (
          <span
            key={corner}
            className={classes.corner}
            data-corner={corner}
            onPointerDown={take}
            onPointerMove={(event) => {
              event.stopPropagation();
              size(event);
            }}
            onPointerUp={(event) => {
              event.stopPropagation();
              drop();
            }}
          />
        ))}
    </div>
  );
}

interface TypeHereProps {
  readonly caption: Caption;
  /** Where its words stand on the screen, px. */
  readonly rect: Rect;
  /** @param isLeft whether something else was gone to. */
  readonly onDone: (isLeft: boolean) => void;
}

/** Words are typed where they stand. */
function TypeHere({ caption, rect, onDone }: TypeHereProps) {
  const { preview, keep } = useDressEdits();
  const align = { left: 'left', centre: 'center', right: 'right' } as const;
  const isLeft = useRef(true);
  return (
    <textarea
      // biome-ignore lint/a11y/noAutofocus: it was opened to type in
      autoFocus
      className={classes.typed}
      aria-label="Words on the picture"
      style={{
        top: rect.y,
        left: `calc(${rect.x}px - 2em)`,
        minWidth: `calc(${rect.width}px + 4em)`,
        height: rect.height,
        fontSize: (rect.height / caption.text.split('\n').length / caption.style.lineHeight) * 0.98,
        lineHeight: caption.style.lineHeight,
        textAlign: align[caption.style.align],
      }}
      value={caption.text}
      onPointerDown={(event) => event.stopPropagation()}
      onFocus={(event) => event.currentTarget.select()}
      onChange={({ currentTarget }) => {
        const { text } = cleanText(currentTarget.value);
        preview((recipe) => changeEntry(recipe, 'captions', caption.id, { text }));
      }}
      onKeyDown={(event) => {
        event.nativeEvent.stopPropagation();
        if (event.key !== 'Escape') return;
        isLeft.current = false;
        event.currentTarget.blur();
      }}
      onBlur={() => {
        keep((recipe) => recipe);
        onDone(isLeft.current);
      }}
    />
  );
}

/** About where words will stand that are not laid out yet. */
function guessedRect({ x, y, text, style }: Caption, shown: Size): Rect {
  const lines = text.split('\n');
  const px = (style.size / 100) * shown.height;
  const width = Math.max(...lines.map((line) => line.length)) * px * 0.55;
  const height = lines.length * px * style.lineHeight;
  return { x: x * shown.width - width / 2, y: y * shown.height - height / 2, width, height };
}

function scaled({ x, y, width, height }: Rect, by: number): Rect {
  return { x: x * by, y: y * by, width: width * by, height: height * by };
}

function clamp(share: number): number {
  return Math.max(-0.5, Math.min(1.5, share));
}

import type { Rect } from '@muted-pond/core/pixels';
import {
  type Brush,
  beginStroke,
  createMask,
  type Mask,
  type Stroke,
  type StrokePoint,
} from '@muted-pond/core/still';

/** How much of a new point a stroke follows at once: the rest is smoothed. */
const FOLLOW = 0.6;

/** The ripple that is painted on. */
export interface PaintTarget {
  /** Null until the first stroke has made it. */
  id: string | null;
}

/** The dependencies of a painter. */
export interface PainterDoors {
  /** The ripple that is painted on now; null for a new one. */
  active(): string | null;
  /** The paint that is kept of a ripple; a fresh mask where nothing was painted. */
  load(target: PaintTarget): Promise<Mask>;
  /** The brush for a mask. */
  brush(mask: Mask): Brush;
  /** Keeps what was painted, and gives a new ripple its id. */
  keep(mask: Mask, target: PaintTarget): Promise<void>;
  /** A stroke can be seen from now on. */
  begun(mask: Mask): void;
  /** A part of it was painted. */
  painted(mask: Mask, part: Rect): void;
  /** All strokes are saved, or the pointer is up and there is nothing to show. */
  dry(): void;
  failed(error: unknown): void;
}

/** A place on the picture, not yet in pixels of a mask: the mask may still be loading. */
export type PlaceOn = (mask: Mask) => StrokePoint;

/**
 * Takes strokes: each begins on what the one before left, also while that is being kept, and strokes are kept
 * in their order. A hand that is up before the paint is loaded has made its stroke all the same.
 */
export interface Painter {
  begin(place: PlaceOn): void;
  move(places: readonly PlaceOn[]): void;
  end(): void;
  /** Resolves when all strokes are saved. */
  settled(): Promise<void>;
}

/** A stroke, from pointer down until it is saved. */
interface Held {
  /** Points that came before the paint was loaded. */
  readonly early: PlaceOn[];
  readonly target: PaintTarget;
  mask: Mask | null;
  stroke: Stroke | null;
  at: { x: number; y: number } | null;
  isUp: boolean;
}

export function createPainter(doors: PainterDoors): Painter {
  let held: Held | null = null;
  /** What was painted last, while it is on its way to be kept. */
  let wet: { readonly mask: Mask; readonly target: PaintTarget } | null = null;
  /** Where the next stroke belongs to, if it goes on painting the same ripple. */
  let lastTarget: PaintTarget | null = null;
  let starting: Promise<void> = Promise.resolve();
  let keeping: Promise<void> = Promise.resolve();

  function add(now: Held, place: PlaceOn): void {
    const { mask, stroke } = now;
    if (!mask || !stroke) return;
    const point = place(mask);
    const at = now.at ?? point;
    now.at = { x: at.x + (point.x - at.x) * FOLLOW, y: at.y + (point.y - at.y) * FOLLOW };
    doors.painted(mask, stroke.add({ ...point, ...now.at }));
  }

  async function start(now: Held): Promise<void> {
    const { target } = now;
    const base = wet?.target === target ? wet.mask : await doors.load(target);
    now.mask = createMask(base.width, base.height, base.values.slice());
    now.stroke = beginStroke(now.mask, doors.brush(now.mask));
    doors.begun(now.mask);
    for (const place of now.early) add(now, place);
    if (now.isUp) finish(now);
  }

  function finish({ mask, target }: Held): void {
    if (!mask) return;
    const mine = { mask, target };
    wet = mine;
    keeping = keeping
      .then(() => doors.keep(mask, target))
      .catch((error: unknown) => doors.failed(error))
      .finally(() => {
        if (wet !== mine) return;
        wet = null;
        if (!held) doors.dry();
      });
  }

  return {
    begin(place) {
      if (held) return;
      const id = doors.active();
      const target = lastTarget?.id === id ? lastTarget : { id };
      lastTarget = target;
      const now: Held = { early: [place], target, mask: null, stroke: null, at: null, isUp: false };
      held = now;
      // One after the other: a stroke that still loads is made before the next one begins.
      starting = starting
        .then(() => start(now))
        .catch((error: unknown) => {
          if (held === now) held = null;
          doors.failed(error);
          if (!wet) doors.dry();
        });
    },
    move(places) {
      if (!held) return;
      if (held.mask) for (const place of places) add(held, place);
      else held.early.push(...places);
    },
    end() {
      const now = held;
      if (!now) return;
      held = null;
      now.isUp = true;
      if (now.mask) finish(now);
    },
    async settled() {
      for (let last: Promise<void> | null = null; last !== keeping; ) {
        await starting;
        last = keeping;
        await last;
      }
    },
  };
}

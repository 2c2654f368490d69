import type { PlannedReel } from '../palette/index.js';
import type { ParallelJob, ThreadPool } from '../pixels/index.js';
import { createAlphaReel } from './alpha.js';
import type { FrameDraft } from './draw-work.js';
import { createKernelDrawer } from './fast-drawer.js';
import { minimumCodeBits } from './lzw-tree.js';
import { PlainDrawer } from './plain-drawer.js';
import type { Rect } from './writer.js';

/** Frames that one thread draws one after the other. */
const CHUNK_FRAMES = 9;

export interface DrawSettings {
  /** How far similar pixel runs may be merged, in levels; 0 writes the plan exactly. */
  readonly squeeze: number;
  /** The least benefit for which a changed pixel is drawn, in levels for one frame; 0 draws every change. */
  readonly redrawPrice: number;
  readonly isInterlaced: boolean;
  /** Whether the plan is a dither's: then its pattern is kept. */
  readonly isDithered: boolean;
}

/** Frames to be drawn in chunks that any thread may take; the bytes do not depend on who does. */
export interface DrawWork extends ParallelJob<'draw'>, PlannedReel, DrawSettings {
  /** First frames of the chunks, and the end of the last. */
  readonly bounds: readonly number[];
  /** Whether nothing was written before. */
  readonly isFirst: boolean;
  /** Whether what was shown before goes on, so that most segments begin only because the part does. */
  readonly goesOn: boolean;
  /** Whether the last frame is disposed of. */
  readonly clearsAtEnd: boolean;
  /** Entries besides the palette: 1 where something can be clear or unchanged. */
  readonly extraEntries: number;
  /** What is shown before the first frame (see shownColour); only read: who draws later needs it too. */
  readonly shown: Uint32Array;
  /** What is written: room for the data of each chunk, and of each frame … */
  readonly data: readonly Uint8Array[];
  /** … how many bytes it has, 0 where nothing is drawn; */
  readonly sizes: Int32Array;
  /** its rectangle: left, top, width, height; */
  readonly rects: Int32Array;
  /** whether that is disposed of; */
  readonly disposed: Uint8Array;
  /** and what is shown behind the last frame. */
  readonly shownAfter: Uint32Array;
}

/** @returns work without anything drawn yet. */
export function newDrawWork(
  reel: PlannedReel,
  settings: DrawSettings,
  part: Pick<DrawWork, 'isFirst' | 'goesOn' | 'clearsAtEnd' | 'extraEntries' | 'shown'>,
  threads: ThreadPool,
): DrawWork {
  const { length } = reel.plans;
  const bounds = boundsOfChunks(length, reel.cleared !== null);
  const pixels = reel.width * reel.height;
  return {
    ...{ ...reel, ...settings, ...part, kind: 'draw', bounds },
    // A pixel takes a code of 12 bits at most, and every 255th byte one more.
    data: bounds.slice(1).map((end, chunk) => {
      return new Uint8Array(threads.allocate((end - bounds[chunk]) * (pixels * 2 + 64)));
    }),
    sizes: new Int32Array(threads.allocate(length * 4)),
    rects: new Int32Array(threads.allocate(length * 16)),
    disposed: new Uint8Array(threads.allocate(length)),
    shownAfter: new Uint32Array(threads.allocate(pixels * 4)),
  };
}

/** What is disposed of depends on what was drawn before: such frames are one chunk. */
function boundsOfChunks(frames: number, isOne: boolean): number[] {
  const count = isOne ? 1 : Math.max(1, Math.round(frames / CHUNK_FRAMES));
  return Array.from({ length: count + 1 }, (_, chunk) => Math.round((chunk * frames) / count));
}

/** @param isPlain whether no kernel is used; the results are the same. */
export function startDrawing(work: DrawWork, isPlain = false): (chunk: number) => void {
  const { bounds, data } = work;
  const drawer = (isPlain ? null : createKernelDrawer(work, work)) ?? new PlainDrawer(work, work);
  let palette = -1;
  const begin = (f: number, draft: FrameDraft): Rect | null => {
    if (palette !== work.paletteOf[f]) drawer.takePalette(work.palettes[work.paletteOf[f]]);
    palette = work.paletteOf[f];
    return drawer.begin(draft, {
      hold: work.redrawPrice ** 2,
      goesOn: f === 0 && work.goesOn,
    });
  };
  const draftOf = (f: number): FrameDraft => {
    return { rgba: work.frames[f].rgba, plan: work.plans[f], durations: work.durations[f] };
  };

  // What is shown before a frame if all before it are drawn as they are planned. In truth some pixels show a
  // colour that is nearly the planned one; a chunk need not know, so that nobody waits for another.
  const planned = work.shown.slice();
  let plannedUntil = 0;
  const showAsPlanned = (until: number): void => {
    // Whoever takes chunks takes them in their order, and goes on from the last one.
    if (until < plannedUntil) {
      planned.set(work.shown);
      plannedUntil = 0;
    }
    drawer.shown.set(planned);
    for (; plannedUntil < until; plannedUntil++) {
      begin(plannedUntil, draftOf(plannedUntil));
      drawer.showPlanned();
    }
    planned.set(drawer.shown);
  };

  return (chunk) => {
    showAsPlanned(bounds[chunk]);
    const alpha = work.cleared && createAlphaReel(work, drawer.shown);
    let used = 0;
    for (let f = bounds[chunk]; f < bounds[chunk + 1]; f++) {
      const changed = begin(f, alpha?.planned(f) ?? draftOf(f));
      const clears = clearedAfter(work, f, alpha);
      const rect = unite(changed, clears);
      work.disposed[f] = clears ? 1 : 0;
      if (!rect) continue;
      const entries = work.palettes[palette].length;
      const isWhole = f === 0 && work.isFirst && !alpha && !clears;
      const bytes = drawer.draw(rect, {
        isInterlaced: work.isInterlaced,
        minimumCodeBits: minimumCodeBits(entries + work.extraEntries),
        transparentIndex: isWhole ? null : entries,
        squeeze: work.squeeze,
        isDithered: work.isDithered,
      });
      data[chunk].set(bytes, used);
      used += bytes.length;
      work.sizes[f] = bytes.length;
      work.rects.set([rect.left, rect.top, rect.width, rect.height], f * 4);
      if (clears) alpha?.dispose(rect);
    }
    if (chunk === bounds.length - 2) work.shownAfter.set(drawer.shown);
  };
}

function clearedAfter(
  work: DrawWork,
  frame: number,
  alpha: ReturnType<typeof createAlphaReel> | null,
): Rect | null {
  if (work.clearsAtEnd && frame === work.plans.length - 1) {
    return { left: 0, top: 0, width: work.width, height: work.height };
  }
  return alpha?.clearedAfter(frame) ?? null;
}

/** The smallest rectangle that holds both. */
function unite(a: Rect | null, b: Rect | null): Rect | null {
  if (!a || !b) return a ?? b;
  const left = Math.min(a.left, b.left);
  const top = Math.min(a.top, b.top);
  return {
    left,
    top,
    width: Math.max(a.left + a.width, b.left + b.width) - left,
    height: Math.max(a.top + a.height, b.top + b.height) - top,
  };
}

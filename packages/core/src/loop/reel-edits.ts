import { UserError } from '../errors/index.js';
import { type Reel, type ReelFrame, type Span, shareCentiseconds } from '../timing/index.js';

/**
 * A frame of the reel, named by what it shows: the source frame, which copy of it (0 is the one that span and
 * rate give; copies, blends and pictures on the way to the next frame count from 1), and how many source frames it stood for when it was named.
 */
export type FrameRef = readonly [source: number, copy: number, reach: number];

/**
 * One thing done to the reel by hand. Edits are applied in their order to whatever reel span, rate and speed
 * give.
 */
export type ReelEdit =
  /** Frames that are not shown. With `keepTime` the frame before stays for as long instead. */
  | { readonly kind: 'remove'; readonly frames: readonly FrameRef[]; readonly keepTime: boolean }
  /** Each of the frames is shown for so long. */
  | { readonly kind: 'delay'; readonly frames: readonly FrameRef[]; readonly delayCs: number }
  /** The frames stand before another one, or at the end. */
  | { readonly kind: 'move'; readonly frames: readonly FrameRef[]; readonly before: FrameRef | null }
  /** The frames change places, last first. */
  | { readonly kind: 'reverse'; readonly frames: readonly FrameRef[] }
  /** The frames once more, after the last of them. */
  | { readonly kind: 'duplicate'; readonly frames: readonly FrameRef[] }
  /** So many mixtures between a frame and the one after it; after the last one, the first. */
  | { readonly kind: 'blend'; readonly after: FrameRef; readonly count: number; readonly delayCs: number };

export type ReelEditKind = ReelEdit['kind'];

/** A frame of the edited reel that can be named. */
export interface ReelItem extends ReelFrame {
  readonly copy: number;
  /** Source frames it stands for: until the next one that the reel takes. */
  readonly reach: number;
}

export interface EditedReel {
  readonly items: readonly ReelItem[];
  /** Edits that found none of their frames, by their places in the list. */
  readonly lost: readonly number[];
}

export function refOf({ source, copy, reach }: ReelItem): FrameRef {
  return [source, copy, reach];
}

/**
 * Applies edits to a reel. What names frames that the reel does not take any more, but that lie within the
 * span, holds for the frames that stand for them now; what lies outside the span is lost, and told.
 * @throws UserError when no frame is left.
 */
export function editReel(reel: Reel, span: Span, edits: readonly ReelEdit[]): EditedReel {
  let items: readonly ReelItem[] = namedItems(reel, span);
  const lost: number[] = [];
  for (const [index, edit] of edits.entries()) {
    const edited = applyEdit(items, span, edit);
    if (edited) items = edited;
    else lost.push(index);
  }
  if (items.length === 0) {
    throw new UserError('no_frame_left', 'No frame is left in the reel. Undo, or bring frames back.');
  }
  return { items, lost };
}

function namedItems(reel: Reel, span: Span): ReelItem[] {
  const sources = [...new Set(reel.map((pick) => pick.source))].sort((a, b) => a - b);
  const next = new Map(sources.map((source, i) => [source, sources[i + 1] ?? span.end]));
  const copies = new Map<number, number>();
  return reel.map((pick) => {
    // Of pictures on the way from one frame the first stands for it.
    const copy = copies.get(pick.source) ?? 0;
    copies.set(pick.source, copy + 1);
    const reach = Math.max(1, (next.get(pick.source) as number) - pick.source);
    return { ...pick, copy, reach: copy === 0 ? reach : 1 };
  });
}

/** The reel after one edit; null when none of its frames is there. */
function applyEdit(items: readonly ReelItem[], span: Span, edit: ReelEdit): readonly ReelItem[] | null {
  if (edit.kind === 'blend') return blendAfter(items, edit);
  if (edit.kind === 'remove') return removeFrames(items, span, edit);
  const chosen = new Set(edit.frames.flatMap((ref) => findItems(items, ref)));
  if (chosen.size === 0) return null;
  switch (edit.kind) {
    case 'delay':
      return delayFrames(items, edit);
    case 'move':
      return moveFrames(items, chosen, edit.before);
    case 'reverse': {
      const turned = items.filter((item) => chosen.has(item)).reverse();
      return items.map((item) => (chosen.has(item) ? (turned.shift() as ReelItem) : item));
    }
    case 'duplicate':
      return duplicateFrames(items, chosen);
  }
}

/** The items a name stands for: those within its reach, else the one that stands for its frame now. */
function findItems(items: readonly ReelItem[], [source, copy, reach]: FrameRef): ReelItem[] {
  if (copy > 0) return items.filter((item) => item.source === source && item.copy === copy);
  const within = itemsWithin(items, source, reach);
  if (within.length > 0) return within;
  const covering = items.find(
    (item) => item.copy === 0 && item.source <= source && source < item.source + item.reach,
  );
  return covering ? [covering] : [];
}

function itemsWithin(items: readonly ReelItem[], source: number, reach: number): ReelItem[] {
  return items.filter((item) => item.copy === 0 && item.source >= source && item.source < source + reach);
}

function removeFrames(
  items: readonly ReelItem[],
  span: Span,
  { frames, keepTime }: Extract<ReelEdit, { kind: 'remove' }>,
): readonly ReelItem[] | null {
  const gone = new Set(
    frames.flatMap(([source, copy, reach]) =>
      copy > 0 ? findItems(items, [source, copy, reach]) : itemsWithin(items, source, reach),
    ),
  );
  // What the reel does not take anyway is removed already.
  const isMeant = ([source, copy]: FrameRef) => copy === 0 && source >= span.start && source < span.end;
  if (gone.size === 0) return frames.some(isMeant) ? items : null;
  if (!keepTime) return items.filter((item) => !gone.has(item));
  const kept: ReelItem[] = [];
  let waiting = 0;
  for (const item of items) {
    const last = kept.at(-1);
    if (!gone.has(item)) {
      kept.push({ ...item, delayCs: item.delayCs + waiting });
      waiting = 0;
    } else if (last) kept[kept.length - 1] = { ...last, delayCs: last.delayCs + item.delayCs };
    else waiting += item.delayCs;
  }
  return kept;
}

function delayFrames(
  items: readonly ReelItem[],
  { frames, delayCs }: Extract<ReelEdit, { kind: 'delay' }>,
): readonly ReelItem[] {
  const delays = new Map<ReelItem, number>();
  for (const ref of frames) {
    const found = findItems(items, ref);
    // Where several frames stand for the one that was meant, they share its time.
    const shares =
      found.length > 1 && delayCs >= 2 * found.length ? shareCentiseconds(delayCs, found.length) : null;
    for (const [i, item] of found.entries()) delays.set(item, shares ? shares[i] : delayCs);
  }
  return items.map((item) => {
    const delay = delays.get(item);
    return delay === undefined ? item : { ...item, delayCs: delay };
  });
}

function moveFrames(
  items: readonly ReelItem[],
  chosen: ReadonlySet<ReelItem>,
  before: FrameRef | null,
): readonly ReelItem[] {
  const moved = items.filter((item) => chosen.has(item));
  const others = items.filter((item) => !chosen.has(item));
  const goal = before ? findItems(others, before)[0] : undefined;
  const at = goal ? others.indexOf(goal) : others.length;
  return [...others.slice(0, at), ...moved, ...others.slice(at)];
}

function duplicateFrames(items: readonly ReelItem[], chosen: ReadonlySet<ReelItem>): readonly ReelItem[] {
  const originals = items.filter((item) => chosen.has(item));
  const at = items.indexOf(originals.at(-1) as ReelItem) + 1;
  const copies: ReelItem[] = [];
  for (const item of originals) {
    copies.push({ ...item, copy: nextCopy([...items, ...copies], item.source), reach: 1 });
  }
  return [...items.slice(0, at), ...copies, ...items.slice(at)];
}

function blendAfter(
  items: readonly ReelItem[],
  { after, count, delayCs }: Extract<ReelEdit, { kind: 'blend' }>,
): readonly ReelItem[] | null {
  const item = findItems(items, after).at(-1);
  if (!item) return null;
  const at = items.indexOf(item) + 1;
  const next = items[at % items.length];
  const blends: ReelItem[] = [];
  for (let n = 1; n <= count; n++) {
    blends.push({
      source: item.source,
      ...(item.toward && { toward: item.toward }),
      delayCs,
      blend: { source: next.source, ...(next.toward && { toward: next.toward }), share: n / (count + 1) },
      ...(item.woven !== undefined && { woven: item.woven }),
      copy: nextCopy([...items, ...blends], item.source),
      reach: 1,
    });
  }
  return [...items.slice(0, at), ...blends, ...items.slice(at)];
}

function nextCopy(items: readonly ReelItem[], source: number): number {
  return 1 + items.reduce((most, item) => (item.source === source ? Math.max(most, item.copy) : most), 0);
}

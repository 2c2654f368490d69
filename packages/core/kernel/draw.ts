// Drawing the frames of a GIF, in AssemblyScript (a dialect of TypeScript): which pixels are drawn, and LZW whose
// every string is the one that costs least, bits and error together, among all that the dictionary holds.
// packages/core/src/gif/plain-drawer.ts has the plain way, which gives the same bytes. Built by `npm run make-kernel`
// into packages/core/src/gif/draw-kernel.ts.
//
// Numbers are kept in single precision and reckoned with in double precision, as TypeScript does with a Float32Array.

const LUMA_RED: f64 = 0.299;
const LUMA_GREEN: f64 = 0.587;
const LUMA_BLUE: f64 = 0.114;
const FAR: f64 = 1e30;
const MOST_CODES: i32 = 4096;
/** The index of no colour. */
const NO_INDEX: i32 = 256;
const SLOTS: u32 = 1024;
const CHILD_SLOTS: u32 = 8192;

// What is told by the host; see draw-work.ts.
let blueScale: f64 = 0;
let redScale: f64 = 0;
let near: i32 = 0;
let beam: i32 = 0;
let keptShare: f64 = 0;
let slack: f64 = 0;
let fade: f64 = 0;
let firstWorth: f64 = 0;

let pixels: i32 = 0;
let width: i32 = 0;
let height: i32 = 0;
// Of the frame, row by row:
let rgba: usize = 0; // u32
let durations: usize = 0; // u16
let plan: usize = 0; // u8
let drawn: usize = 0; // u8
let weights: usize = 0; // f32: 1 / masking²
let chromas: usize = 0; // f32: what a squared difference of colour counts beside one of luma
let shown: usize = 0; // u32: the colour on screen as 1 << 24 | BBGGRR; 0 for nothing
// Of the palette:
let entryColours: usize = 0; // u32, 256, as in `shown`
let entryValues: usize = 0; // f32 × 4, 256
let nearest: usize = 0; // i16, 256 × near
let nearDistances: usize = 0; // f64, near
let apart: usize = 0; // f32, 256 × 256: squared distances of entries
let slots: usize = 0; // i16, SLOTS: the entry of a colour, + 1
// Of each pixel of the rectangle, in the order in which it is written:
let places: usize = 0; // i32
let targets: usize = 0; // f32 × 4: luma, blue, red to come near to, and the squared distance of the planned colour
let lastings: usize = 0; // f32: how long it stays, over masking²; 0 where it need not be drawn
let chromaShares: usize = 0; // f32: as chromas
let leavings: usize = 0; // f32: the cost of leaving what is shown
let sames: usize = 0; // i16: the entry that is what is shown; −1 where there is none
// The dictionary, a tree:
let firstChild: usize = 0; // i16
let nextSibling: usize = 0; // i16
let parent: usize = 0; // i16
let symbol: usize = 0; // u8
let children: usize = 0; // u32, CHILD_SLOTS: code << 20 | symbol << 12 | child, found by code and symbol; 0 for none
let firstSymbol: usize = 0; // u8
// Strings that are followed, f64 cost and i32 code each:
let listA: usize = 0;
let listB: usize = 0;
let out: usize = 0;

export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

/** Lays the memory out from `at` on. @returns its end; so much must be there. */
export function place(at: usize, w: i32, h: i32, nearCount: i32, beamCount: i32): usize {
  width = w;
  height = h;
  pixels = w * h;
  near = nearCount;
  beam = beamCount;
  const p = (<usize>pixels + 15) & ~15;
  rgba = at;
  shown = rgba + p * 4;
  weights = shown + p * 4;
  chromas = weights + p * 4;
  places = chromas + p * 4;
  targets = places + p * 4;
  lastings = targets + p * 16;
  chromaShares = lastings + p * 4;
  leavings = chromaShares + p * 4;
  sames = leavings + p * 4;
  durations = sames + p * 2;
  plan = durations + p * 2;
  drawn = plan + p;
  entryColours = drawn + p;
  entryValues = entryColours + 256 * 4;
  nearDistances = entryValues + 256 * 16;
  nearest = nearDistances + <usize>near * 8;
  apart = nearest + <usize>near * 512;
  slots = apart + 256 * 1024;
  firstChild = slots + SLOTS * 2;
  nextSibling = firstChild + MOST_CODES * 2;
  parent = nextSibling + MOST_CODES * 2;
  symbol = parent + MOST_CODES * 2;
  firstSymbol = symbol + MOST_CODES;
  children = firstSymbol + MOST_CODES;
  listA = children + CHILD_SLOTS * 4;
  listB = listA + <usize>beam * 16;
  out = listB + <usize>beam * 16;
  // A code of 12 bits a pixel at most, a byte more every 255, and what stands around.
  return out + p * 2 + 1024;
}
export function tell(blue: f64, red: f64, kept: f64, most: f64, fading: f64, begins: f64): void {
  blueScale = blue;
  redScale = red;
  keptShare = kept;
  slack = most;
  fade = fading;
  firstWorth = begins;
}
export function rgbaAt(): usize {
  return rgba;
}
export function durationsAt(): usize {
  return durations;
}
export function planAt(): usize {
  return plan;
}
export function weightsAt(): usize {
  return weights;
}
export function chromasAt(): usize {
  return chromas;
}
export function shownAt(): usize {
  return shown;
}
export function entryColoursAt(): usize {
  return entryColours;
}
export function outAt(): usize {
  return out;
}

// @ts-ignore: decorators are the language's own
@inline
function lumaOf(word: u32): f64 {
  return LUMA_RED * <f64>(word & 255) + LUMA_GREEN * <f64>((word >> 8) & 255) + LUMA_BLUE * <f64>((word >> 16) & 255);
}
// @ts-ignore: decorators are the language's own
@inline
function blueOf(word: u32, luma: f64): f64 {
  return (<f64>((word >> 16) & 255) - luma) * blueScale;
}
// @ts-ignore: decorators are the language's own
@inline
function redOf(word: u32, luma: f64): f64 {
  return (<f64>(word & 255) - luma) * redScale;
}
// @ts-ignore: decorators are the language's own
@inline
function squares(y: f64, u: f64, v: f64, chroma: f64): f64 {
  return y * y + (u * u + v * v) * chroma;
}
// @ts-ignore: decorators are the language's own
@inline
function valueOf(entry: i32, part: i32): f64 {
  return <f64>load<f32>(entryValues + (<usize>entry << 4) + (<usize>part << 2));
}
// @ts-ignore: decorators are the language's own
@inline
function slotOf(colour: u32): u32 {
  return (colour * 0x9e3779b1) >> 22;
}

/** The first entry of a colour, or −1. */
function entryOf(colour: u32): i32 {
  let slot = slotOf(colour);
  let entry = <i32>load<i16>(slots + (<usize>slot << 1)) - 1;
  while (entry >= 0 && load<u32>(entryColours + (<usize>entry << 2)) != colour) {
    slot = (slot + 1) & (SLOTS - 1);
    entry = <i32>load<i16>(slots + (<usize>slot << 1)) - 1;
  }
  return entry;
}

/** Takes the palette whose colours stand at entryColoursAt. */
export function takePalette(count: i32): void {
  memory.fill(slots, 0, SLOTS * 2);
  for (let e = 0; e < count; e++) {
    const colour = load<u32>(entryColours + (<usize>e << 2));
    const luma = lumaOf(colour);
    const at = entryValues + (<usize>e << 4);
    store<f32>(at, <f32>luma);
    store<f32>(at + 4, <f32>blueOf(colour, luma));
    store<f32>(at + 8, <f32>redOf(colour, luma));
    let slot = slotOf(colour);
    for (;;) {
      const there = <i32>load<i16>(slots + (<usize>slot << 1)) - 1;
      if (there < 0) store<i16>(slots + (<usize>slot << 1), <i16>(e + 1));
      else if (load<u32>(entryColours + (<usize>there << 2)) != colour) {
        slot = (slot + 1) & (SLOTS - 1);
        continue;
      }
      break;
    }
  }
  for (let e = 0; e < count; e++) {
    const list = nearest + <usize>(e * near * 2);
    let held = 0;
    for (let other = 0; other < count; other++) {
      const d = squares(
        valueOf(other, 0) - valueOf(e, 0),
        valueOf(other, 1) - valueOf(e, 1),
        valueOf(other, 2) - valueOf(e, 2),
        1,
      );
      store<f32>(apart + (<usize>e << 10) + (<usize>other << 2), <f32>d);
      if (other == e) continue;
      if (held == near && d >= load<f64>(nearDistances + (<usize>(near - 1) << 3))) continue;
      // Insertion: the list is short.
      let k = held < near ? held++ : near - 1;
      for (; k > 0 && load<f64>(nearDistances + (<usize>(k - 1) << 3)) > d; k--) {
        store<f64>(nearDistances + (<usize>k << 3), load<f64>(nearDistances + (<usize>(k - 1) << 3)));
        store<i16>(list + (<usize>k << 1), load<i16>(list + (<usize>(k - 1) << 1)));
      }
      store<f64>(nearDistances + (<usize>k << 3), d);
      store<i16>(list + (<usize>k << 1), <i16>other);
    }
    for (; held < near; held++) store<i16>(list + (<usize>held << 1), -1);
  }
}

let left: i32 = 0;
let top: i32 = 0;
let right: i32 = 0;
let bottom: i32 = 0;
export function leftOf(): i32 {
  return left;
}
export function topOf(): i32 {
  return top;
}
export function rightOf(): i32 {
  return right;
}
export function bottomOf(): i32 {
  return bottom;
}

/**
 * Marks what is drawn of the frame. @param hold what drawing a pixel must bring, squared levels for one frame; 0
 * draws every change. @returns whether anything is.
 */
export function begin(hold: f64, goesOn: bool): bool {
  left = width;
  top = height;
  right = 0;
  bottom = 0;
  memory.fill(drawn, 0, pixels);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const duration = <i32>load<u16>(durations + (<usize>p << 1));
      if (duration == 0) continue;
      const entry = <i32>load<u8>(plan + p);
      const now = load<u32>(shown + (<usize>p << 2));
      if (now == load<u32>(entryColours + (<usize>entry << 2))) continue;
      if (hold > 0 && now != 0) {
        const word = load<u32>(rgba + (<usize>p << 2));
        const luma = lumaOf(word);
        const blue = blueOf(word, luma);
        const red = redOf(word, luma);
        const there = lumaOf(now);
        const chroma = <f64>load<f32>(chromas + (<usize>p << 2));
        const gain =
          squares(luma - there, blue - blueOf(now, there), red - redOf(now, there), chroma) -
          squares(luma - valueOf(entry, 0), blue - valueOf(entry, 1), red - valueOf(entry, 2), chroma);
        const lasting: f64 = goesOn ? 1 : <f64>duration;
        if (gain * lasting * <f64>load<f32>(weights + (<usize>p << 2)) <= hold) continue;
      }
      store<u8>(drawn + p, 1);
      left = min(left, x);
      right = max(right, x + 1);
      top = min(top, y);
      bottom = y + 1;
    }
  }
  return bottom > 0;
}

/** Shows what is marked as it is planned. */
export function showPlanned(): void {
  for (let p = 0; p < pixels; p++) {
    if (load<u8>(drawn + p) == 0) continue;
    store<u32>(shown + (<usize>p << 2), load<u32>(entryColours + (<usize>load<u8>(plan + p) << 2)));
  }
}

let outUsed: usize = 0;
let blockAt: usize = 0;
let pending: u32 = 0;
let pendingBits: i32 = 0;
let codeBits: i32 = 0;
let nextCode: i32 = 0;
/** The index that leaves what is shown; NO_INDEX where none may be used. */
let transparent: i32 = NO_INDEX;
/** The most error of one pixel. */
let limit: f64 = 0;
/** What leaving a dither's pattern costs, as a share of the squared distance from its colour. */
let pattern: f64 = 0;

// @ts-ignore: decorators are the language's own
@inline
function putByte(value: u32): void {
  store<u8>(out + outUsed++, <u8>value);
  if (outUsed - blockAt == 256) {
    store<u8>(out + blockAt, 255);
    blockAt = outUsed++;
  }
}
// @ts-ignore: decorators are the language's own
@inline
function putCode(code: i32): void {
  pending |= <u32>code << pendingBits;
  pendingBits += codeBits;
  while (pendingBits >= 8) {
    putByte(pending & 255);
    pending >>= 8;
    pendingBits -= 8;
  }
}
function clearTable(minimumBits: i32): void {
  putCode(1 << minimumBits);
  codeBits = minimumBits + 1;
  nextCode = (1 << minimumBits) + 2;
  for (let code = 0; code < 1 << minimumBits; code++) store<i16>(firstChild + (<usize>code << 1), -1);
  memory.fill(children, 0, CHILD_SLOTS * 4);
}

/** Where the child of a code with a symbol stands, or would stand. @param key code << 8 | symbol. */
// @ts-ignore: decorators are the language's own
@inline
function childSlot(key: u32): usize {
  let slot = (key * 0x9e3779b1) >> 19;
  let there = load<u32>(children + (<usize>slot << 2));
  while (there != 0 && there >> 12 != key) {
    slot = (slot + 1) & (CHILD_SLOTS - 1);
    there = load<u32>(children + (<usize>slot << 2));
  }
  return children + (<usize>slot << 2);
}
// @ts-ignore: decorators are the language's own
@inline
function childOf(code: i32, index: i32): i32 {
  const there = load<u32>(childSlot((<u32>code << 8) | <u32>index));
  return there == 0 ? -1 : <i32>(there & (MOST_CODES - 1));
}
function addChild(code: i32, index: i32): void {
  const child = <usize>nextCode;
  store<u8>(symbol + child, <u8>index);
  store<u8>(firstSymbol + child, load<u8>(firstSymbol + code));
  store<i16>(parent + (child << 1), <i16>code);
  store<i16>(nextSibling + (child << 1), load<i16>(firstChild + (<usize>code << 1)));
  store<i16>(firstChild + (<usize>code << 1), <i16>child);
  store<i16>(firstChild + (child << 1), -1);
  const key = (<u32>code << 8) | <u32>index;
  store<u32>(childSlot(key), (key << 12) | <u32>nextCode);
}
/** Takes the child away that was added last. */
function dropChild(code: i32, index: i32): void {
  store<i16>(firstChild + (<usize>code << 1), load<i16>(nextSibling + (<usize>nextCode << 1)));
  store<u32>(childSlot((<u32>code << 8) | <u32>index), 0);
}

let listed: i32 = 0;
/** The first of the cheapest that were listed. */
let leastCost: f64 = 0;
let leastCode: i32 = 0;
/** Of a full list: the dearest, and what it costs. */
let dearest: usize = 0;
let dearestCost: f64 = 0;
function beginList(): void {
  listed = 0;
  leastCost = FAR;
}

/** Holds the cheapest of what it is given. */
// @ts-ignore: decorators are the language's own
@inline
function enlist(list: usize, code: i32, cost: f64): void {
  if (cost < leastCost) {
    leastCost = cost;
    leastCode = code;
  }
  if (listed < beam) {
    store<f64>(list + (<usize>listed << 4), cost);
    store<i32>(list + (<usize>listed << 4) + 8, code);
    if (++listed == beam) findDearest(list);
  } else if (cost < dearestCost) {
    store<f64>(list + (dearest << 4), cost);
    store<i32>(list + (dearest << 4) + 8, code);
    findDearest(list);
  }
}

function findDearest(list: usize): void {
  dearestCost = -1;
  for (let k = 0; k < beam; k++) {
    const cost = load<f64>(list + (<usize>k << 4));
    if (cost > dearestCost) {
      dearestCost = cost;
      dearest = <usize>k;
    }
  }
}

/** What another entry than the planned one costs a dither's pattern. */
// @ts-ignore: decorators are the language's own
@inline
function leavingPattern(i: i32, entry: i32): f64 {
  if (pattern == 0) return 0;
  const planned = <usize>load<u8>(plan + load<i32>(places + (<usize>i << 2)));
  return pattern * <f64>load<f32>(apart + (planned << 10) + (<usize>entry << 2));
}

/** What covering a drawn pixel is worth, in error. */
let worth: f64 = 0;
let bestEnd: i32 = 0;
let bestCode: i32 = 0;

// The pixel that is looked at.
let y: f64 = 0;
let u: f64 = 0;
let v: f64 = 0;
let planned: f64 = 0;
let lasting: f64 = 0;
let leaving: f64 = 0;
let chroma: f64 = 0;
/** Beyond this squared distance a colour is too far off. */
let reach: f64 = 0;

// @ts-ignore: decorators are the language's own
@inline
function lookAt(i: i32): void {
  const target = targets + (<usize>i << 4);
  y = <f64>load<f32>(target);
  u = <f64>load<f32>(target + 4);
  v = <f64>load<f32>(target + 8);
  planned = <f64>load<f32>(target + 12);
  lasting = <f64>load<f32>(lastings + (<usize>i << 2));
  leaving = <f64>load<f32>(leavings + (<usize>i << 2));
  chroma = <f64>load<f32>(chromaShares + (<usize>i << 2));
  reach = planned + limit / lasting;
}

/** Whether a pixel is drawn: what is, stays for some time. */
// @ts-ignore: decorators are the language's own
@inline
function isDrawn(i: i32): bool {
  return load<f32>(lastings + (<usize>i << 2)) != 0;
}

/**
 * Lists an index after what costs `before`, if the drawn pixel that is looked at allows it: what it costs beyond the
 * planned colour may be `limit`, and all together `most`.
 */
// @ts-ignore: decorators are the language's own
@inline
function tryEntry(list: usize, i: i32, index: i32, code: i32, before: f64, most: f64): void {
  const colour = entryValues + (<usize>index << 4);
  const dy = <f64>load<f32>(colour) - y;
  const light = dy * dy;
  if (light > reach) return;
  const du = <f64>load<f32>(colour + 4) - u;
  const dv = <f64>load<f32>(colour + 8) - v;
  const distance = light + (du * du + dv * dv) * chroma;
  if (distance > reach) return;
  const cost = max<f64>(0, (distance - planned) * lasting) + leavingPattern(i, index) * lasting;
  if (cost <= limit && before + cost <= most) enlist(list, code, before + cost);
}

/** Finds the string from pixel `from` on that gains most. */
function search(from: i32, count: i32): void {
  let list = listA;
  let other = listB;
  beginList();
  if (!isDrawn(from)) {
    if (transparent != NO_INDEX) enlist(list, transparent, 0);
    const same = <i32>load<i16>(sames + (<usize>from << 1));
    if (same >= 0) enlist(list, same, 0);
  } else {
    const entry = <i32>load<u8>(plan + load<i32>(places + (<usize>from << 2)));
    enlist(list, entry, 0);
    if (limit > 0) {
      lookAt(from);
      if (leaving <= limit) enlist(list, transparent, leaving);
      const all = nearest + <usize>(entry * near * 2);
      for (let k = 0; k < near; k++) {
        const index = <i32>load<i16>(all + (<usize>k << 1));
        if (index < 0) break;
        tryEntry(list, from, index, index, 0, FAR);
      }
    }
  }
  let bestValue = -FAR;
  let gain: f64 = 0;
  for (let i = from; ; ) {
    gain += isDrawn(i) ? worth : worth * keptShare;
    if (gain - leastCost >= bestValue) {
      bestValue = gain - leastCost;
      bestEnd = i + 1;
      bestCode = leastCode;
    }
    if (++i >= count) return;
    const held = listed;
    beginList();
    const most = gain + worth * slack;
    const kept = !isDrawn(i);
    if (kept || limit <= 0) {
      // What need not be drawn is left, or drawn as it is; without squeeze the plan is drawn to the letter.
      const pixel = <usize>load<i32>(places + (<usize>i << 2));
      const index = kept ? <i32>load<i16>(sames + (<usize>i << 1)) : <i32>load<u8>(plan + pixel);
      const leaves = kept && transparent != NO_INDEX;
      for (let k = 0; k < held; k++) {
        const before = load<f64>(list + (<usize>k << 4));
        if (before > most) continue;
        const string = load<i32>(list + (<usize>k << 4) + 8);
        if (leaves) {
          const child = childOf(string, transparent);
          if (child >= 0) enlist(other, child, before);
        }
        if (index >= 0) {
          const child = childOf(string, index);
          if (child >= 0) enlist(other, child, before);
        }
      }
    } else {
      lookAt(i);
      for (let k = 0; k < held; k++) {
        const before = load<f64>(list + (<usize>k << 4));
        const string = load<i32>(list + (<usize>k << 4) + 8);
        let child = <i32>load<i16>(firstChild + (<usize>string << 1));
        while (child >= 0) {
          const s = <i32>load<u8>(symbol + child);
          if (s != transparent) tryEntry(other, i, s, child, before, most);
          else if (leaving <= limit && before + leaving <= most) enlist(other, child, before + leaving);
          child = load<i16>(nextSibling + (<usize>child << 1));
        }
      }
    }
    if (listed == 0) return;
    const swap = list;
    list = other;
    other = swap;
  }
}

/** Reads what is to be written of row `y`, from pixel number `i` on. */
function readRow(y: i32, x0: i32, w: i32, i: i32): void {
  for (let p = y * width + x0, end = p + w; p < end; p++, i++) {
    const at = <usize>i << 2;
    store<i32>(places + at, p);
    const now = load<u32>(shown + (<usize>p << 2));
    if (load<u8>(drawn + p) == 0) {
      store<i16>(sames + (<usize>i << 1), now == 0 ? -1 : <i16>entryOf(now));
      store<f32>(lastings + at, 0);
      continue;
    }
    const entry = <i32>load<u8>(plan + p);
    const word = load<u32>(rgba + (<usize>p << 2));
    const luma = lumaOf(word);
    const blue = blueOf(word, luma);
    const red = redOf(word, luma);
    const chroma = <f64>load<f32>(chromas + (<usize>p << 2));
    const planned = squares(luma - valueOf(entry, 0), blue - valueOf(entry, 1), red - valueOf(entry, 2), chroma);
    const lasting =
      <f64>load<u16>(durations + (<usize>p << 1)) * <f64>load<f32>(weights + (<usize>p << 2));
    const target = targets + (<usize>i << 4);
    store<f32>(target, <f32>luma);
    store<f32>(target + 4, <f32>blue);
    store<f32>(target + 8, <f32>red);
    store<f32>(target + 12, <f32>planned);
    store<f32>(lastings + at, <f32>lasting);
    store<f32>(chromaShares + at, <f32>chroma);
    let leaving = FAR;
    if (transparent != NO_INDEX && now != 0) {
      const there = lumaOf(now);
      const distance = squares(luma - there, blue - blueOf(now, there), red - redOf(now, there), chroma);
      leaving = max<f64>(0, (distance - planned) * lasting);
      if (pattern != 0) {
        leaving +=
          pattern *
          lasting *
          squares(
            valueOf(entry, 0) - there,
            valueOf(entry, 1) - blueOf(now, there),
            valueOf(entry, 2) - redOf(now, there),
            1,
          );
      }
    }
    store<f32>(leavings + at, <f32>leaving);
  }
}

/**
 * Writes the rectangle's LZW data: code size, sub-blocks, terminator. What is shown follows.
 * @param clear the index that leaves what is shown; −1 where none may be used.
 * @param price of a usual code, squared levels. @param most error of one pixel, squared levels.
 * @param patternShare see `pattern`.
 * @returns bytes at outAt.
 */
export function draw(
  x0: i32,
  y0: i32,
  w: i32,
  h: i32,
  interlaced: bool,
  minimumBits: i32,
  clear: i32,
  price: f64,
  most: f64,
  patternShare: f64,
): i32 {
  const count = w * h;
  transparent = clear < 0 ? NO_INDEX : clear;
  limit = most;
  pattern = patternShare;
  if (interlaced) {
    // GIF89a, appendix E: every 8th row, then those half-way, and so on.
    let i = 0;
    for (let pass = 0; pass < 4; pass++) {
      const step = pass == 0 ? 8 : 16 >> pass;
      for (let row = pass == 0 ? 0 : step >> 1; row < h; row += step, i += w) readRow(y0 + row, x0, w, i);
    }
  } else {
    for (let row = 0; row < h; row++) readRow(y0 + row, x0, w, row * w);
  }
  for (let code = 0; code < 1 << minimumBits; code++) {
    store<u8>(symbol + code, <u8>code);
    store<u8>(firstSymbol + code, <u8>code);
  }
  outUsed = 0;
  store<u8>(out + outUsed++, <u8>minimumBits);
  blockAt = outUsed++;
  pending = 0;
  pendingBits = 0;
  codeBits = minimumBits + 1;
  clearTable(minimumBits);
  const leastWorth = 1e-6;
  worth = max<f64>(price * firstWorth, leastWorth);
  let codes: f64 = 0;
  let covered: f64 = 1e-9;
  let previous = -1;
  for (let from = 0; from < count; ) {
    // The entry that the string before will make, should this one begin as that did.
    let ahead = false;
    if (previous >= 0 && nextCode < MOST_CODES && childOf(previous, <i32>load<u8>(firstSymbol + previous)) < 0) {
      addChild(previous, <i32>load<u8>(firstSymbol + previous));
      ahead = true;
    }
    search(from, count);
    const code = bestCode;
    const first = <i32>load<u8>(firstSymbol + code);
    if (previous >= 0 && nextCode < MOST_CODES) {
      if (ahead && first != <i32>load<u8>(firstSymbol + previous)) {
        dropChild(previous, <i32>load<u8>(firstSymbol + previous));
        ahead = false;
      }
      if (!ahead && childOf(previous, first) < 0) addChild(previous, first);
      nextCode++;
      // The decoder's table is one entry behind; its codes widen when that entry arrives.
      if (nextCode > 1 << codeBits && codeBits < 12) codeBits++;
    }
    putCode(code);
    let seen: f64 = 0;
    for (let i = bestEnd - 1, c = code; i >= from; i--) {
      const entry = <i32>load<u8>(symbol + c);
      const p = load<i32>(places + (<usize>i << 2));
      if (entry != transparent) {
        store<u32>(shown + (<usize>p << 2), load<u32>(entryColours + (<usize>entry << 2)));
      }
      seen += load<u8>(drawn + p) != 0 ? 1 : keptShare;
      if (i > from) c = load<i16>(parent + (<usize>c << 1));
    }
    codes = codes * fade + 1;
    covered = covered * fade + seen;
    worth = max<f64>((price * codes) / covered, leastWorth);
    previous = code;
    from = bestEnd;
    if (nextCode >= MOST_CODES) {
      clearTable(minimumBits);
      previous = -1;
    }
  }
  // The decoder adds an entry for the last code too, and may widen its codes for it.
  if (previous >= 0 && nextCode < MOST_CODES) {
    nextCode++;
    if (nextCode > 1 << codeBits && codeBits < 12) codeBits++;
  }
  putCode((1 << minimumBits) + 1); // End of Information
  if (pendingBits > 0) putByte(pending & 255);
  store<u8>(out + blockAt, <u8>(outUsed - blockAt - 1));
  // An empty last block is the terminator itself.
  if (outUsed - blockAt > 1) store<u8>(out + outUsed++, 0);
  return <i32>outUsed;
}

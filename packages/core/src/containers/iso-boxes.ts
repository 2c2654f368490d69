import { concat, fourCc, fourCcBytes, u32be } from './bytes.js';

/**
 * Boxes of the ISO base media file format (ISO/IEC 14496-12), as far as times and places of a finished file
 * are put right: an encoder has written it, and does not say how long its last frame is seen, or how often a
 * picture sequence is shown.
 */
interface Box {
  readonly type: string;
  /** Of a box that is looked into, what is inside it; else null. */
  children: Box[] | null;
  /** What follows size and type; of a box that is looked into, nothing. */
  payload: Uint8Array;
}

/** Boxes that hold nothing but boxes. */
const HOLDERS = new Set(['moov', 'trak', 'mdia', 'minf', 'stbl', 'edts']);

const HEADER_BYTES = 8;

function readBoxes(bytes: Uint8Array): Box[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const boxes: Box[] = [];
  for (let at = 0; at + HEADER_BYTES <= bytes.length; ) {
    const declared = view.getUint32(at);
    // 0: to the end of the file; 1: a size of 64 bits follows.
    const isLarge = declared === 1;
    const size = declared === 0 ? bytes.length - at : isLarge ? Number(view.getBigUint64(at + 8)) : declared;
    const header = isLarge ? 16 : HEADER_BYTES;
    if (size < header || at + size > bytes.length) throw new RangeError('This file breaks off.');
    const type = fourCc(bytes, at + 4);
    const inside = bytes.subarray(at + header, at + size);
    boxes.push(
      HOLDERS.has(type)
        ? { type, children: readBoxes(inside), payload: new Uint8Array() }
        : { type, children: null, payload: inside },
    );
    at += size;
  }
  return boxes;
}

function writeBox({ type, children, payload }: Box): Uint8Array {
  const inside = children ? concat(children.map(writeBox)) : payload;
  return concat([u32be(HEADER_BYTES + inside.length), fourCcBytes(type), inside]);
}

function child(box: Box, ...path: readonly string[]): Box {
  let at = box;
  for (const type of path) {
    const next = at.children?.find((one) => one.type === type);
    if (!next) throw new RangeError(`This file has no ${path.join('/')}.`);
    at = next;
  }
  return at;
}

function fieldsOf({ payload }: Box): DataView {
  return new DataView(payload.buffer, payload.byteOffset, payload.length);
}

/** The end of a box's version and flags. */
const FULL_BOX_BYTES = 4;

/** A track that goes on without end (ISO/IEC 23008-12, 7.2.2 and 9.6.1: all bits of its duration are set). */
const ENDLESS = 0xffff_ffff_ffff_ffffn;
const MOST_IN_32_BITS = 0xffff_fffe;

/**
 * Says the duration in a header box. One that 32 bits cannot hold is said in 64, by a header of version 1 whose
 * other times are 64 bits wide as well.
 * @param between words between the times at the header's beginning and its duration.
 */
function setDuration(box: Box, between: number, duration: number | typeof ENDLESS): void {
  const was = fieldsOf(box);
  if (was.getUint8(0) !== 0) throw new RangeError(`The ${box.type} of this file has 64-bit times.`);
  const at = FULL_BOX_BYTES + 8 + between * 4;
  if (duration !== ENDLESS && duration <= MOST_IN_32_BITS) {
    box.payload = new Uint8Array(box.payload);
    fieldsOf(box).setUint32(at, duration);
    return;
  }
  const long = BigInt(duration);
  box.payload = concat([
    Uint8Array.of(1), // version
    box.payload.subarray(1, FULL_BOX_BYTES), // flags
    u32be(0),
    u32be(was.getUint32(FULL_BOX_BYTES)), // creation_time
    u32be(0),
    u32be(was.getUint32(FULL_BOX_BYTES + 4)), // modification_time
    box.payload.subarray(FULL_BOX_BYTES + 8, at), // track_ID and reserved, or timescale
    u32be(Number(long >> 32n)),
    u32be(Number(long & 0xffff_ffffn)), // duration
    box.payload.subarray(at + 4),
  ]);
}

export interface IsoTimes {
  /** How long each frame is shown, seconds, in the order of the file; null leaves what stands there. */
  readonly seconds: readonly number[] | null;
  /** Of picture sequences: 0 without end, else so many times. Null for movies, which do not say. */
  readonly plays: number | null;
}

/**
 * The file with the durations of its frames written anew, how often it is shown, and all that describes it
 * before the pictures, so that it can be shown while it is fetched.
 * @throws RangeError when the bytes are no whole file, or its frames are other ones.
 */
export function retimeIsoFile(bytes: Uint8Array, { seconds, plays }: IsoTimes): Uint8Array {
  const boxes = readBoxes(bytes).filter(({ type }) => type !== 'free');
  const moov = boxes.find(({ type }) => type === 'moov');
  if (!moov) throw new RangeError('This file has no moov.');
  const movieScale = fieldsOf(child(moov, 'mvhd')).getUint32(FULL_BOX_BYTES + 8);
  let movieTicks = 0;
  for (const track of moov.children?.filter(({ type }) => type === 'trak') ?? []) {
    const header = child(track, 'mdia', 'mdhd');
    const scale = fieldsOf(header).getUint32(FULL_BOX_BYTES + 8);
    if (seconds) setFrameTimes(track, header, scale, seconds);
    const mediaTicks = fieldsOf(header).getUint32(FULL_BOX_BYTES + 12);
    const ticks = Math.round((mediaTicks / scale) * movieScale);
    movieTicks = Math.max(movieTicks, ticks);
    const edits = track.children?.find(({ type }) => type === 'edts');
    // The duration of a track header follows its number and a reserved word.
    setDuration(child(track, 'tkhd'), 2, plays === 0 ? ENDLESS : ticks * (plays ?? 1));
    if (edits && seconds) setEditTicks(child(edits, 'elst'), ticks);
    if (plays !== null) showAgain(track, ticks, plays);
  }
  // That of the movie follows its time scale.
  setDuration(child(moov, 'mvhd'), 1, movieTicks * Math.max(1, plays ?? 1));
  return inOrder(bytes, boxes, moov);
}

function setFrameTimes(track: Box, header: Box, scale: number, seconds: readonly number[]): void {
  const table = child(track, 'mdia', 'minf', 'stbl');
  const sizes = fieldsOf(child(table, 'stsz')).getUint32(FULL_BOX_BYTES + 4);
  if (sizes !== seconds.length) {
    throw new RangeError(`The file has ${sizes} frames; ${seconds.length} were to be timed.`);
  }
  let at = 0;
  let shown = 0;
  const deltas = seconds.map((one) => {
    at += one;
    const delta = Math.round(at * scale) - shown;
    shown += delta;
    return delta;
  });
  const runs: [number, number][] = [];
  for (const delta of deltas) {
    const last = runs.at(-1);
    if (last?.[1] === delta) last[0]++;
    else runs.push([1, delta]);
  }
  child(table, 'stts').payload = concat([
    u32be(0), // version and flags
    u32be(runs.length), // entry_count
    ...runs.flatMap(([count, delta]) => [
      u32be(count), // sample_count
      u32be(delta), // sample_delta
    ]),
  ]);
  setDuration(header, 1, shown);
}

/** The one stretch of an edit list is as long as the track. */
function setEditTicks(list: Box, ticks: number): void {
  list.payload = new Uint8Array(list.payload);
  fieldsOf(list).setUint32(FULL_BOX_BYTES + 4, ticks);
}

/** Edit list with the flag that says: again from its beginning, for as long as the track lasts. */
function showAgain(track: Box, ticks: number, plays: number): void {
  const list: Box = {
    type: 'elst',
    children: null,
    payload: concat([
      u32be(plays === 1 ? 0 : 1), // version 0; flags: repeat
      u32be(1), // entry_count
      u32be(ticks), // segment_duration
      u32be(0), // media_time
      u32be(0x0001_0000), // media_rate_integer and media_rate_fraction
    ]),
  };
  const rest = (track.children ?? []).filter(({ type }) => type !== 'edts');
  const place = rest.findIndex(({ type }) => type === 'tkhd') + 1;
  const edits: Box = { type: 'edts', children: [list], payload: new Uint8Array() };
  track.children = [...rest.slice(0, place), edits, ...rest.slice(place)];
}

/** The movie box before the pictures, and every place that names one of them moved along. */
function inOrder(before: Uint8Array, boxes: readonly Box[], moov: Box): Uint8Array {
  const media = boxes.filter(({ type }) => type === 'mdat');
  if (media.length !== 1) throw new RangeError(`This file has ${media.length} parts with pictures, not one.`);
  const [mdat] = media;
  const head = boxes.filter((box) => box !== moov && box !== mdat);
  const was = mdat.payload.byteOffset - before.byteOffset;
  const all = [...head, moov, mdat];
  const is = [...head, moov].reduce((sum, box) => sum + writeBox(box).length, HEADER_BYTES);
  for (const track of moov.children?.filter(({ type }) => type === 'trak') ?? []) {
    moveOffsets(child(track, 'mdia', 'minf', 'stbl', 'stco'), is - was);
  }
  const meta = head.find(({ type }) => type === 'meta');
  if (meta) moveItems(meta, is - was);
  return concat(all.map(writeBox));
}

function moveOffsets(offsets: Box, by: number): void {
  offsets.payload = new Uint8Array(offsets.payload);
  const fields = fieldsOf(offsets);
  const count = fields.getUint32(FULL_BOX_BYTES);
  for (let i = 0; i < count; i++) {
    const at = FULL_BOX_BYTES + 4 + i * 4;
    fields.setUint32(at, fields.getUint32(at) + by);
  }
}

/** Items of a picture sequence that say where in the file their picture lies (ISO/IEC 14496-12, 8.11.3). */
function moveItems(meta: Box, by: number): void {
  const inside = readBoxes(meta.payload.subarray(FULL_BOX_BYTES));
  const places = inside.find(({ type }) => type === 'iloc');
  if (!places) return;
  places.payload = new Uint8Array(places.payload);
  const fields = fieldsOf(places);
  const version = fields.getUint8(0);
  const [offsetBytes, lengthBytes] = [fields.getUint8(4) >> 4, fields.getUint8(4) & 15];
  const [baseBytes, indexBytes] = [fields.getUint8(5) >> 4, fields.getUint8(5) & 15];
  let at = FULL_BOX_BYTES + 2;
  const number = (bytes: number) => {
    const value = bytes === 4 ? fields.getUint32(at) : bytes === 2 ? fields.getUint16(at) : 0;
    at += bytes;
    return value;
  };
  const count = number(version < 2 ? 2 : 4);
  for (let item = 0; item < count; item++) {
    number(version < 2 ? 2 : 4); // item_ID
    if (version > 0) number(2); // construction_method
    number(2); // data_reference_index
    const baseAt = at;
    const base = number(baseBytes);
    if (base > 0) fields.setUint32(baseAt, base + by);
    const extents = number(2);
    for (let extent = 0; extent < extents; extent++) {
      if (version > 0) number(indexBytes);
      const offsetAt = at;
      const offset = number(offsetBytes);
      if (base === 0) fields.setUint32(offsetAt, offset + by);
      number(lengthBytes);
    }
  }
  meta.payload = concat([meta.payload.subarray(0, FULL_BOX_BYTES), ...inside.map(writeBox)]);
}

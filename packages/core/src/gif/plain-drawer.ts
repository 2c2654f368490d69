import { BLUE_SCALE, LUMA, RED_SCALE, type Size } from '../pixels/index.js';
import type { Masking } from '../settle/index.js';
import { boundsOf } from './bounds.js';
import {
  BEAM,
  type BeginOptions,
  chromaSharesOf,
  type DrawOptions,
  FADE,
  FIRST_WORTH,
  type FrameDraft,
  type FrameDrawer,
  KEPT_SHARE,
  LEAST_WORTH,
  NEAR,
  NOTHING,
  PATTERN,
  pricesOf,
  SLACK,
  shownColour,
  weightsOf,
} from './draw-work.js';
import { rowOrder } from './interlace.js';
import { LzwTree } from './lzw-tree.js';

/** Luma, scaled B − Y and scaled R − Y of a colour as it stands on screen or in a frame's bytes. */
function valuesOf(word: number, out: Float64Array | Float32Array, at = 0): void {
  const red = word & 255;
  const luma = LUMA[0] * red + LUMA[1] * ((word >> 8) & 255) + LUMA[2] * ((word >> 16) & 255);
  out[at] = luma;
  out[at + 1] = (((word >> 16) & 255) - luma) * BLUE_SCALE;
  out[at + 2] = (red - luma) * RED_SCALE;
}

type Numbers = Float64Array | Float32Array;

/** Squared distance of two colours, each from a place in its table. @param chroma what colour counts. */
function between(a: Numbers, atA: number, b: Numbers, atB: number, chroma: number): number {
  const y = a[atA] - b[atB];
  const u = a[atA + 1] - b[atB + 1];
  const v = a[atA + 2] - b[atB + 2];
  return y * y + (u * u + v * v) * chroma;
}

const FAR = 1e30;

/** A string that is followed. */
interface Followed {
  readonly code: number;
  readonly cost: number;
}

/** Holds the cheapest BEAM of what it is given; a later one does not push out one as cheap. */
class Beam {
  readonly strings: Followed[] = [];
  /** The first of the cheapest that were added. */
  cheapest: Followed = { code: -1, cost: FAR };

  add(code: number, cost: number): void {
    const { strings } = this;
    if (cost < this.cheapest.cost) this.cheapest = { code, cost };
    if (strings.length < BEAM) {
      strings.push({ code, cost });
      return;
    }
    let worst = 0;
    for (let k = 1; k < BEAM; k++) if (strings[k].cost > strings[worst].cost) worst = k;
    if (cost < strings[worst].cost) strings[worst] = { code, cost };
  }
}

/** What is to be written of a rectangle, one a pixel in the order in which it is written. */
interface DraftPixel {
  readonly place: number;
  readonly isDrawn: boolean;
  /** Palette entry; of a pixel that stays, the one that is what is shown, or −1. */
  readonly entry: number;
  /** Luma, blue and red to come near to, and the squared distance of the planned colour. */
  readonly target: Float32Array;
  /** What squared differences of colour count. */
  readonly chroma: number;
  /** How long it stays, over masking². */
  readonly lasting: number;
  /** The cost of leaving what is shown. */
  readonly leaving: number;
}

/**
 * Reference implementation of the kernel, used where none can run: the same bytes, ten times as slow. Numbers
 * are single precision where the kernel's are.
 */
export class PlainDrawer implements FrameDrawer {
  readonly shown: Uint32Array;
  private readonly drawn: Uint8Array;
  private readonly weights: Float32Array;
  private readonly chromas: Float32Array;
  private colours: readonly number[] = [];
  /** Four an entry, the last unused. */
  private values = new Float32Array(0);
  private near: readonly (readonly number[])[] = [];
  private entryOf = new Map<number, number>();
  private pattern = 0;
  private draft: FrameDraft = {
    rgba: new Uint8Array(0),
    durations: new Uint16Array(0),
    plan: new Uint8Array(0),
  };

  constructor(
    private readonly size: Size,
    { masking, chroma }: Masking,
  ) {
    this.shown = new Uint32Array(masking.length).fill(NOTHING);
    this.drawn = new Uint8Array(masking.length);
    this.weights = weightsOf(masking);
    this.chromas = chromaSharesOf(chroma);
  }

  takePalette(palette: Parameters<FrameDrawer['takePalette']>[0]): void {
    this.colours = palette.map(shownColour);
    this.values = new Float32Array(palette.length * 4);
    for (const [entry, colour] of this.colours.entries()) valuesOf(colour, this.values, entry * 4);
    this.entryOf = new Map();
    for (const [entry, colour] of this.colours.entries()) {
      if (!this.entryOf.has(colour)) this.entryOf.set(colour, entry);
    }
    const { values } = this;
    const all = [...palette.keys()];
    this.near = all.map((entry) => {
      const distance = new Map(all.map((other) => [other, between(values, other * 4, values, entry * 4, 1)]));
      const others = all.filter((other) => other !== entry);
      return others.sort((a, b) => (distance.get(a) ?? 0) - (distance.get(b) ?? 0)).slice(0, NEAR);
    });
  }

  begin(draft: FrameDraft, { hold, goesOn }: BeginOptions) {
    this.draft = draft;
    const { drawn, shown, values, weights, chromas, colours } = this;
    const { durations, plan } = draft;
    const own = new Float64Array(3);
    const there = new Float64Array(3);
    drawn.fill(0);
    for (let p = 0; p < durations.length; p++) {
      const now = shown[p];
      if (durations[p] === 0 || now === colours[plan[p]]) continue;
      if (hold > 0 && now !== NOTHING) {
        valuesOf(wordAt(draft.rgba, p), own);
        valuesOf(now, there);
        const chroma = chromas[p];
        const gain = between(own, 0, there, 0, chroma) - between(own, 0, values, plan[p] * 4, chroma);
        if (gain * (goesOn ? 1 : durations[p]) * weights[p] <= hold) continue;
      }
      drawn[p] = 1;
    }
    return boundsOf(this.size.width, this.size.height, (p) => drawn[p] === 1);
  }

  showPlanned(): void {
    const { drawn, shown, colours, draft } = this;
    for (let p = 0; p < drawn.length; p++) if (drawn[p] === 1) shown[p] = colours[draft.plan[p]];
  }

  draw(rect: Parameters<FrameDrawer['draw']>[0], options: DrawOptions): Uint8Array {
    const { isInterlaced, minimumCodeBits, transparentIndex, squeeze } = options;
    this.pattern = options.isDithered ? PATTERN : 0;
    const price = pricesOf(squeeze);
    const pixels: DraftPixel[] = [];
    for (const row of rowOrder(rect.height, isInterlaced)) {
      const from = (rect.top + row) * this.size.width + rect.left;
      for (let p = from; p < from + rect.width; p++) pixels.push(this.readPixel(p, transparentIndex));
    }
    const tree = new LzwTree(minimumCodeBits);
    let worth = Math.max(price.code * FIRST_WORTH, LEAST_WORTH);
    let codes = 0;
    let covered = 1e-9;
    for (let from = 0; from < pixels.length; ) {
      tree.expect();
      const { code, end } = this.search(tree, pixels, from, transparentIndex, worth, price.limit);
      const string = tree.write(code);
      let seen = 0;
      for (let i = end - 1; i >= from; i--) {
        const index = string[i - from];
        const { place, isDrawn } = pixels[i];
        if (index !== transparentIndex) this.shown[place] = this.colours[index];
        seen += isDrawn ? 1 : KEPT_SHARE;
      }
      codes = codes * FADE + 1;
      covered = covered * FADE + seen;
      worth = Math.max((price.code * codes) / covered, LEAST_WORTH);
      from = end;
    }
    return tree.finish();
  }

  private readPixel(place: number, transparentIndex: number | null): DraftPixel {
    const { drawn, shown, values, weights, chromas, draft } = this;
    const now = shown[place];
    const target = new Float32Array(4);
    if (drawn[place] === 0) {
      const entry = this.entryOf.get(now) ?? -1;
      return { place, isDrawn: false, entry, target, chroma: 1, lasting: 0, leaving: 0 };
    }
    const entry = draft.plan[place];
    const own = new Float64Array(3);
    valuesOf(wordAt(draft.rgba, place), own);
    const chroma = chromas[place];
    const planned = between(own, 0, values, entry * 4, chroma);
    const lasting = draft.durations[place] * weights[place];
    target.set(own);
    target[3] = planned;
    let leaving = FAR;
    if (transparentIndex !== null && now !== NOTHING) {
      const there = new Float64Array(3);
      valuesOf(now, there);
      leaving = Math.max(0, (between(own, 0, there, 0, chroma) - planned) * lasting);
      leaving += this.pattern * lasting * between(values, entry * 4, there, 0, 1);
    }
    return {
      ...{ place, isDrawn: true, entry, target, chroma },
      lasting: Math.fround(lasting),
      leaving: Math.fround(leaving),
    };
  }

  /** Finds the string from pixel `from` on that gains most: worth of what it covers, less what it errs. */
  private search(
    tree: LzwTree,
    pixels: readonly DraftPixel[],
    from: number,
    transparentIndex: number | null,
    worth: number,
    limit: number,
  ): { readonly code: number; readonly end: number } {
    let beam = new Beam();
    for (const index of this.beginnings(pixels[from], transparentIndex, limit)) {
      const isPlanned = index === pixels[from].entry;
      const cost = isPlanned ? 0 : this.costOf(pixels[from], index, transparentIndex, limit);
      if (cost <= limit) beam.add(index, cost);
    }
    let bestValue = Number.NEGATIVE_INFINITY;
    let best = { code: -1, end: from };
    let gain = 0;
    for (let i = from; beam.strings.length > 0; ) {
      gain += pixels[i].isDrawn ? worth : worth * KEPT_SHARE;
      const { code, cost } = beam.cheapest;
      if (gain - cost >= bestValue) {
        bestValue = gain - cost;
        best = { code, end: i + 1 };
      }
      if (++i >= pixels.length) break;
      const next = new Beam();
      for (const string of beam.strings) {
        for (const child of this.childrenAt(pixels[i], tree, string.code, transparentIndex, limit)) {
          const cost = this.costOf(pixels[i], tree.symbol(child), transparentIndex, limit);
          const total = string.cost + cost;
          if (cost <= limit && total <= gain + worth * SLACK) next.add(child, total);
        }
      }
      beam = next;
    }
    return best;
  }

  /** The strings that are one index longer; where only one or two indices may follow, leaving what is shown comes first. */
  private childrenAt(
    { isDrawn, entry }: DraftPixel,
    tree: LzwTree,
    code: number,
    transparentIndex: number | null,
    limit: number,
  ): readonly number[] {
    const all = tree.children(code);
    if (isDrawn && limit > 0) return all;
    const isEntry = (child: number) => tree.symbol(child) === entry;
    const leaves = (child: number) => !isDrawn && tree.symbol(child) === transparentIndex;
    return [...all.filter(leaves), ...all.filter(isEntry)];
  }

  /** The indices with which a string may begin at a pixel. */
  private beginnings(pixel: DraftPixel, transparentIndex: number | null, limit: number): number[] {
    const clear = transparentIndex === null ? [] : [transparentIndex];
    if (!pixel.isDrawn) return pixel.entry >= 0 ? [...clear, pixel.entry] : clear;
    if (limit <= 0) return [pixel.entry];
    return [pixel.entry, ...clear, ...this.near[pixel.entry]];
  }

  /** What another entry than the planned one costs a dither's pattern. */
  private leavingPattern(planned: number, entry: number): number {
    const { pattern, values } = this;
    return pattern === 0 ? 0 : pattern * Math.fround(between(values, entry * 4, values, planned * 4, 1));
  }

  /** What writing an index at a pixel costs beyond its planned colour; FAR where it is too far off. */
  private costOf(pixel: DraftPixel, index: number, transparentIndex: number | null, limit: number): number {
    const { isDrawn, entry, target, chroma, lasting, leaving } = pixel;
    if (!isDrawn) return index === transparentIndex || index === entry ? 0 : FAR;
    // Without squeeze the plan is drawn to the letter: a nearer colour would undo a dither.
    if (limit <= 0) return index === entry ? 0 : FAR;
    if (index === transparentIndex) return leaving <= limit ? leaving : FAR;
    const distance = between(this.values, index * 4, target, 0, chroma);
    if (distance > target[3] + limit / lasting) return FAR;
    return Math.max(0, (distance - target[3]) * lasting) + this.leavingPattern(entry, index) * lasting;
  }
}

function wordAt(rgba: Uint8Array, pixel: number): number {
  const at = pixel * 4;
  return rgba[at] | (rgba[at + 1] << 8) | (rgba[at + 2] << 16);
}

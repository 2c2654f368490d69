/** What a file under a limit keeps at the cost of the rest. */
export const FIT_KINDS = ['sharp', 'smooth', 'colour'] as const;
export type FitKind = (typeof FIT_KINDS)[number];

/** What fitting may change. */
export interface FitSettings {
  /** Pixels. */
  readonly width: number;
  /** Frames a second. */
  readonly frameRate: number;
  readonly colors: number;
  /** Levels. */
  readonly settle: number;
  readonly squeeze: number;
}

/** One leg of the way down: where its settings lead. */
type Leg = Partial<FitSettings>;

/** How much is given up when nothing more can be: shares of the best, and levels. */
const LEAST_WIDTH = 0.2;
const SMALLEST_PX = 48;
const LEAST_COLORS = 24;
const SLOWEST = 5;
const SMALL = { settle: 6, squeeze: 9 };
const SMALLEST = { settle: 10, squeeze: 16 };

/**
 * The way from the best settings down, told by one number: 0 is the best, 1 the lightest. Sharp gives up
 * frames first, smooth pixels and colours, colour pixels and frames together; each gives up more of the rest
 * when that is not enough.
 */
function legsOf(kind: FitKind, best: FitSettings): readonly Leg[] {
  const slow = Math.min(best.frameRate, Math.max(SLOWEST, best.frameRate * 0.5));
  const slowest = Math.min(best.frameRate, SLOWEST);
  const width = (share: number) => Math.min(best.width, Math.max(SMALLEST_PX, best.width * share));
  const colors = (most: number) => Math.min(best.colors, most);
  const last: Partial<FitSettings> = {
    width: width(LEAST_WIDTH),
    frameRate: slowest,
    colors: colors(LEAST_COLORS),
    ...SMALLEST,
  };
  switch (kind) {
    case 'sharp':
      return [{ frameRate: slow }, SMALL, { frameRate: slowest, colors: colors(96) }, last];
    case 'smooth':
      return [SMALL, { width: width(0.45), colors: colors(64) }, last];
    case 'colour':
      return [{ width: width(0.4), frameRate: slow }, SMALL, last];
  }
}

/** How the logarithm of the bytes goes with each setting, as measured on many clips. */
const POWERS = { width: 1.8, frameRate: 0.6, colors: 0.2, quality: -0.45 } as const;

function predictedLog({ width, frameRate, colors, settle, squeeze }: FitSettings): number {
  return (
    POWERS.width * Math.log(width) +
    POWERS.frameRate * Math.log(frameRate) +
    POWERS.colors * Math.log(colors) +
    POWERS.quality * Math.log(settle + squeeze + 2)
  );
}

/** Where the legs of a way meet, from the best to the lightest. */
function stationsOf(kind: FitKind, best: FitSettings): readonly FitSettings[] {
  const stations = [best];
  for (const leg of legsOf(kind, best)) {
    const before = stations[stations.length - 1];
    const next = { ...before, ...leg };
    stations.push({
      ...next,
      settle: Math.max(before.settle, next.settle),
      squeeze: Math.max(before.squeeze, next.squeeze),
    });
  }
  return stations;
}

/**
 * Settings at a place of the way, 0–1; the logarithm of the bytes falls about evenly along it. Widths are
 * even, colours whole, rates in tenths.
 */
export function fitSettingsAt(kind: FitKind, best: FitSettings, place: number): FitSettings {
  if (place <= 0) return best;
  const stations = stationsOf(kind, best);
  const logs = stations.map(predictedLog);
  const wanted = logs[0] + (logs[logs.length - 1] - logs[0]) * Math.min(1, place);
  const leg = Math.max(0, Math.min(stations.length - 2, logs.findIndex((log) => log <= wanted + 1e-9) - 1));
  const [from, to] = [stations[leg], stations[leg + 1]];
  const share = logs[leg] === logs[leg + 1] ? 1 : (logs[leg] - wanted) / (logs[leg] - logs[leg + 1]);
  // In equal ratios; what may be 0 is counted from 1.
  const between = (name: keyof FitSettings, shift = 0) =>
    (from[name] + shift) * ((to[name] + shift) / (from[name] + shift)) ** share - shift;
  return {
    width: 2 * Math.round(between('width') / 2),
    frameRate: Math.max(1, Math.round(between('frameRate') * 10) / 10),
    colors: Math.round(between('colors')),
    settle: Math.round(between('settle', 1) * 100) / 100,
    squeeze: Math.round(between('squeeze', 1) * 100) / 100,
  };
}

/** The share of the limit that is aimed at, and from which a file is near enough. */
const AIM = 0.955;
const NEAR = 0.92;
/** Full encodes for one file. */
export const MOST_ENCODES = 6;

export interface Fitted<File> {
  readonly settings: FitSettings;
  readonly file: File;
  readonly bytes: number;
  readonly encodes: number;
}

export type FitResult<File> =
  | { readonly type: 'fits'; readonly fitted: Fitted<File> }
  /** Even the lightest file is over the limit. */
  | { readonly type: 'too-heavy'; readonly bytes: number; readonly settings: FitSettings };

/**
 * The heaviest file of one way that is under the limit, by true encodes: a secant on the logarithm of the
 * bytes with a bracket to fall back on. Ends at 92–100 % of the limit, or with the best there is: settings
 * move by whole steps, and a file at its best may be lighter.
 */
export async function fitUnder<File>(
  kind: FitKind,
  best: FitSettings,
  limitBytes: number,
  encode: (settings: FitSettings) => Promise<{ readonly file: File; readonly bytes: number }>,
): Promise<FitResult<File>> {
  const aim = Math.log(limitBytes * AIM);
  const slope = Math.max(0.5, predictedLog(best) - predictedLog(fitSettingsAt(kind, best, 1)));
  // Bytes fall along the way; what is known on both sides of the limit.
  let over: { place: number; log: number } | null = null;
  let under: { place: number; log: number } | null = null;
  let kept: Fitted<File> | null = null;
  let lightest: FitResult<File> = { type: 'too-heavy', bytes: 0, settings: best };
  let place = 0;
  for (let encodes = 1; encodes <= MOST_ENCODES; encodes++) {
    const settings = fitSettingsAt(kind, best, place);
    const { file, bytes } = await encode(settings);
    const log = Math.log(bytes);
    if (bytes <= limitBytes) {
      if (!kept || bytes > kept.bytes) kept = { settings, file, bytes, encodes };
      if (bytes >= limitBytes * NEAR || place === 0) return { type: 'fits', fitted: { ...kept, encodes } };
      under = { place, log };
    } else {
      lightest = { type: 'too-heavy', bytes, settings };
      if (place >= 1) return lightest;
      over = { place, log };
    }
    place = nextPlace(slope, over, under, aim, encodes);
  }
  // The last try but one was the lightest there is: something was found, or nothing fits.
  return kept ? { type: 'fits', fitted: { ...kept, encodes: MOST_ENCODES } } : lightest;
}

function nextPlace(
  slope: number,
  over: { place: number; log: number } | null,
  under: { place: number; log: number } | null,
  aim: number,
  encodes: number,
): number {
  if (over && under) {
    const share = (over.log - aim) / Math.max(1e-6, over.log - under.log);
    // A bracket that does not close is halved.
    const safe = encodes >= 5 ? (share + 0.5) / 2 : share;
    return over.place + (under.place - over.place) * Math.max(0.04, Math.min(0.96, safe));
  }
  if (over) {
    // Further than it seems when it was not far enough before; at the end the lightest, to know whether there
    // is one.
    const step = ((over.log - aim) / slope) * (1 + 0.3 * (encodes - 1));
    return encodes >= MOST_ENCODES - 2 ? 1 : Math.min(1, over.place + Math.max(0.02, step));
  }
  return Math.max(0, (under?.place ?? 1) / 2);
}

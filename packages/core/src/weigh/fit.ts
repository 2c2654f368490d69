/** What a file under a limit keeps at the cost of the rest. */
export const FIT_KINDS = ['sharp', 'smooth', 'colour'] as const;
export type FitKind = (typeof FIT_KINDS)[number];

/** What fitting may change: width in pixels, frames a second, and what the kind of file has for it. */
export type FitSettings = Readonly<Record<string, number>> & {
  readonly width: number;
  readonly frameRate: number;
};

/** One leg of a way down: where its settings lead. */
export type FitLeg = Readonly<Record<string, number>>;

/** How files of a kind become lighter. */
export interface FitModel {
  /** What the kind itself can be told, at its best. */
  readonly best: FitLeg;
  /** The ways down, each from the best to the lightest. */
  legsOf(kind: FitKind, best: FitSettings): readonly FitLeg[];
  /** How the logarithm of the bytes goes with the settings, about: only the first tries lean on it. */
  predictedLog(settings: FitSettings): number;
  /** Settings that grow as the file becomes lighter: they are counted from 1, and never go back. */
  readonly rising: readonly string[];
  /** Whole steps of each setting: 2 for even numbers, 0.1 for tenths. */
  readonly steps: Readonly<Record<string, number>>;
}

/** Where the legs of a way meet, from the best to the lightest. */
function stationsOf(model: FitModel, kind: FitKind, best: FitSettings): readonly FitSettings[] {
  const stations = [best];
  for (const leg of model.legsOf(kind, best)) {
    const before = stations[stations.length - 1];
    const next = { ...before, ...leg };
    const risen = model.rising.map((name) => [name, Math.max(before[name], next[name])]);
    stations.push({ ...next, ...Object.fromEntries(risen) });
  }
  return stations;
}

/**
 * Settings at a place of the way, 0–1, where 0 is the best and 1 the lightest; the logarithm of the bytes
 * falls about evenly along it. They move in the model's steps.
 */
export function fitSettingsAt(model: FitModel, kind: FitKind, best: FitSettings, place: number): FitSettings {
  if (place <= 0) return best;
  const stations = stationsOf(model, kind, best);
  const logs = stations.map(model.predictedLog);
  const wanted = logs[0] + (logs[logs.length - 1] - logs[0]) * Math.min(1, place);
  const leg = Math.max(0, Math.min(stations.length - 2, logs.findIndex((log) => log <= wanted + 1e-9) - 1));
  const [from, to] = [stations[leg], stations[leg + 1]];
  const share = logs[leg] === logs[leg + 1] ? 1 : (logs[leg] - wanted) / (logs[leg] - logs[leg + 1]);
  const between = (name: string) => {
    // In equal ratios; what may be 0 is counted from 1.
    const shift = model.rising.includes(name) ? 1 : 0;
    const value = (from[name] + shift) * ((to[name] + shift) / (from[name] + shift)) ** share - shift;
    return inSteps(value, model.steps[name]);
  };
  const moved = Object.keys(best).map((name) => [name, between(name)] as const);
  const settings = Object.fromEntries(moved) as unknown as FitSettings;
  return { ...settings, frameRate: Math.max(1, settings.frameRate) };
}

/** Steps below 1 are parts of it: dividing by how many there are keeps decimals short. */
function inSteps(value: number, step: number): number {
  return step >= 1 ? step * Math.round(value / step) : Math.round(value / step) / Math.round(1 / step);
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
  model: FitModel,
  kind: FitKind,
  best: FitSettings,
  limitBytes: number,
  encode: (settings: FitSettings) => Promise<{ readonly file: File; readonly bytes: number }>,
): Promise<FitResult<File>> {
  const aim = Math.log(limitBytes * AIM);
  const lightestOf = fitSettingsAt(model, kind, best, 1);
  const slope = Math.max(0.5, model.predictedLog(best) - model.predictedLog(lightestOf));
  // Bytes fall along the way; what is known on both sides of the limit.
  let over: { place: number; log: number } | null = null;
  let under: { place: number; log: number } | null = null;
  let kept: Fitted<File> | null = null;
  let lightest: FitResult<File> = { type: 'too-heavy', bytes: 0, settings: best };
  let place = 0;
  for (let encodes = 1; encodes <= MOST_ENCODES; encodes++) {
    const settings = fitSettingsAt(model, kind, best, place);
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

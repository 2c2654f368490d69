import { UserError } from '@muted-pond/core/errors';
import {
  FILE_KIND_IDS,
  type FileKindId,
  fileKind,
  ODD_SIDES,
  type PosterFormat,
  type PosterSettings,
  posterFormatOf,
  QUALITIES,
  QUALITY_NAMES,
  REPEAT_LIMITS,
} from '@muted-pond/core/files';
import {
  type AnyJoin,
  type JoinKind,
  type JoinSettings,
  joinOf,
  type LoopLength,
  USUAL_LOOP_LENGTH,
  WOVEN_LIMITS,
} from '@muted-pond/core/loop';
import { DITHER_NAMES, PALETTE_PLANS } from '@muted-pond/core/palette';
import { FIT_NAMES, type Fit, MATTE_PATTERN, type Matte, type Rect } from '@muted-pond/core/pixels';
import { RECIPE_LIMITS, type WeighChange } from '@muted-pond/core/recipe';
import { CommanderError } from 'commander';
import { type DressFlags, readDressFlags } from './dress-flags.js';
import { readQualities } from './quality-flags.js';
import { type Flag, type FlagValues, isHelp, JOIN_NAMES, parseFlags } from './render-command.js';

/** A finished file that is asked for. */
export interface WantedFile {
  readonly path: string;
  readonly kind: FileKindId;
}

/** What the command line asks for; what it leaves open is null. */
export interface RenderFlags {
  /** One video or animation, or pictures in their order. */
  readonly sources: readonly string[];
  /** Finished files, each of the kind that its ending asks for. */
  readonly outs: readonly WantedFile[];
  readonly report: string | null;
  readonly recipe: string | null;
  /** Seconds of the upright footage. */
  readonly from: number | null;
  readonly to: number | null;
  readonly plays: number | null;
  readonly speed: number | null;
  readonly smooth: boolean;
  readonly reverse: boolean;
  readonly join: JoinSettings | null;
  /** Take the best seam whose length, in seconds, lies between these. */
  readonly autoLoop: LoopLength | null;
  /** How it may be closed where it is found by itself; null: as `join` says. */
  readonly joins: readonly JoinKind[] | null;
  /** How long a woven round may be. */
  readonly wovenLength: LoopLength;
  /** A picture in which white moves, in the shape of the upright footage. */
  readonly mask: string | null;
  /** The frame that is held, of the upright footage; `auto` takes the one that meets what moves best. */
  readonly plate: number | 'auto' | null;
  /** What moves is found. */
  readonly ripples: boolean;
  readonly steady: boolean;
  readonly evenLight: boolean;
  /** Whole pixels of the upright footage, or of the canvas of stills. */
  readonly crop: Rect | null;
  /** With the width: a frame of exactly this size, and how the picture takes its place in it. */
  readonly height: number | null;
  readonly fit: Fit | null;
  readonly weigh: WeighChange;
  readonly dress: DressFlags;
  /** One picture of the loop beside the result. */
  readonly poster: string | null;
  /** A page that shows the results. */
  readonly snippet: string | null;
  /** The most bytes of the result; settings are lowered until it fits. */
  readonly limit: number | null;
}

/** @throws UserError in one line for a flag that is unknown, not built, missing or out of range. */
export function readRenderFlags(args: readonly string[]): RenderFlags {
  const values = parse(args);
  const sources = values.source ?? [];
  const wanted = values.out ?? [];
  if (sources.length === 0 || wanted.length === 0) {
    throw new UserError('bad_flag', 'Name a file and where the result goes: --source FILE --out FILE.gif');
  }
  const outs = wanted.map((path) => ({ path, kind: readKind(path) }));
  const height = number('height', values.height, RECIPE_LIMITS.side, true);
  if (height !== null && values.width === undefined) {
    throw new UserError(
      'bad_flag',
      '--height says the shape of the result only together with --width; give both.',
    );
  }
  return {
    sources,
    outs,
    report: values.report ?? null,
    recipe: values.recipe ?? null,
    from: seconds('from', values.from),
    to: seconds('to', values.to),
    plays: number('plays', values.plays, RECIPE_LIMITS.plays, true),
    speed: number('speed', values.speed, RECIPE_LIMITS.speed),
    smooth: values.smooth ?? false,
    reverse: values.reverse ?? false,
    join: readJoin(values.join),
    autoLoop: readAutoLoop(values),
    joins: readJoins(values),
    wovenLength: readLength(values['loop-length']),
    mask: values.mask ?? null,
    plate: readPlate(values.plate),
    ripples: readRipples(values.ripples),
    steady: values.steady ?? false,
    evenLight: values['even-light'] ?? false,
    crop: readCrop(values.crop),
    height,
    fit: choice('fit', values.fit, FIT_NAMES),
    weigh: readWeigh(values, outs[0].kind),
    dress: readDressFlags(values),
    poster: readPoster(values.poster),
    snippet: values.snippet ?? null,
    limit: number('limit', values.limit, { min: 100, max: 1e9 }, true),
  };
}

function parse(args: readonly string[]): FlagValues {
  try {
    return parseFlags(args);
  } catch (error) {
    if (!(error instanceof CommanderError) || isHelp(error)) throw error;
    const [first, more] = error.message.replace(/^error: /, '').split('\n');
    const sentence = `${first[0].toUpperCase()}${first.slice(1)}. ${more ?? ''}`.trim();
    throw new UserError('bad_flag', `${sentence} --help lists all flags.`);
  }
}

function readWeigh(values: FlagValues, kind: FileKindId): WeighChange {
  const quality = choice('quality', values.quality, QUALITY_NAMES);
  const gif = given({
    colors: number('colors', values.colors, RECIPE_LIMITS.colors, true),
    palette: choice('palette', values.palette, PALETTE_PLANS),
    dither: choice('dither', values.dither, DITHER_NAMES),
    ditherStrength: number('dither-strength', values['dither-strength'], RECIPE_LIMITS.ditherStrength),
    settle: number('settle', values.settle, RECIPE_LIMITS.settle),
    squeeze: number('squeeze', values.squeeze, RECIPE_LIMITS.squeeze),
  });
  const shared = given({
    width: number('width', values.width, RECIPE_LIMITS.width, true),
    frameRate: number('fps', values.fps, RECIPE_LIMITS.frameRate),
    matte: readMatte(values.matte),
  });
  const repeatTo = number('repeat-to', values['repeat-to'], REPEAT_LIMITS.repeatTo);
  const repeated = given({ repeatTo });
  const own = readQualities(values['quality-of'] ?? []);
  const poster = given({
    place: readPosterPlace(values['poster-frame']),
    format: values.poster === undefined ? null : posterFormat(values.poster),
  });
  return {
    ...shared,
    ...own,
    kind,
    gif: {
      ...(quality ? QUALITIES[quality] : {}),
      ...own.gif,
      ...gif,
      ...(values.interlaced ? { interlaced: true } : {}),
    },
    mp4: { ...own.mp4, ...repeated, ...given({ odd: choice('odd', values.odd, ODD_SIDES) }) },
    webm: { ...own.webm, ...repeated },
    poster: { ...own.poster, ...poster },
  };
}

function readPosterPlace(text: string | undefined): PosterSettings['place'] | null {
  return text === 'plate' ? text : number('poster-frame', text, MOST_PLACES, true);
}

const MOST_PLACES = { min: 0, max: 100_000 };

/** Without what was left open. */
function given<T extends object>(values: T): { [K in keyof T]?: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) as never;
}

/** The kind that a name's ending asks for, among those with motion. */
function readKind(out: string): FileKindId {
  const moving = FILE_KIND_IDS.filter((id) => fileKind(id).holds.motion);
  const found = moving.find((id) => out.toLowerCase().endsWith(`.${fileKind(id).extension}`));
  if (found) return found;
  const endings = moving.map((id) => `.${fileKind(id).extension} (${fileKind(id).name})`);
  throw new UserError(
    'bad_flag',
    `--out “${out}”: ${endings.slice(0, -1).join(', ')} and ${endings.at(-1)} are what can be made. Give it one of these endings.`,
  );
}

function posterFormat(path: string): PosterFormat {
  const format = posterFormatOf(path);
  if (format) return format;
  throw new UserError(
    'bad_flag',
    `--poster “${path}”: a poster is a PNG, a JPEG or a WebP. Give it the ending .png, .jpg or .webp.`,
  );
}

function readPoster(path: string | undefined): string | null {
  if (path !== undefined) posterFormat(path);
  return path ?? null;
}

function readMatte(text: string | undefined): Matte | null {
  if (text === undefined || MATTE_PATTERN.test(text)) return (text as Matte | undefined) ?? null;
  throw new UserError('bad_flag', `--matte ${text}: give a colour as #rrggbb, or transparent.`);
}

/** A kind of join, and after a colon its length in frames, or how much is to move. */
function readJoin(text: string | undefined): JoinSettings | null {
  if (text === undefined) return null;
  const [name, number] = text.split(':');
  const join = JOIN_NAMES.get(name);
  const settings = join && readJoinNumber(join, number);
  if (join && settings && !join.schema.validate(settings, { convert: false }).error) return settings;
  const { min, max } = WOVEN_LIMITS.liveliness;
  const ways = [...JOIN_NAMES].map(([called, one]) => {
    if (one.woven) return `${called} or ${called}:HOW_MUCH with HOW_MUCH from ${min} to ${max}`;
    return one.length ? `${called}:N with N from ${one.length.min} to ${one.length.max} frames` : called;
  });
  throw new UserError(
    'bad_flag',
    `--join ${text}: give ${ways.slice(0, -1).join(', ')}, or ${ways[ways.length - 1]}.`,
  );
}

function readJoinNumber(join: AnyJoin, number: string | undefined): JoinSettings | null {
  if (join.woven) {
    const settings = join.woven(join.over(0));
    return number === undefined ? settings : { ...settings, liveliness: Number(number) };
  }
  return (join.length === null) === (number === undefined) ? join.over(Number(number)) : null;
}

/** The joins that a loop may be closed by, where it is found by itself. */
function readJoins({ joins, loop }: FlagValues): readonly JoinKind[] | null {
  if (joins === undefined) return null;
  if (loop === undefined) throw new UserError('bad_flag', '--joins belongs to --loop auto; give both.');
  return joins.split(',').map((name) => {
    const join = JOIN_NAMES.get(name.trim());
    if (join) return join.kind;
    throw new UserError('bad_flag', `--joins ${joins}: choose among ${[...JOIN_NAMES.keys()].join(', ')}.`);
  });
}

function readAutoLoop({ loop, join, 'loop-length': length }: FlagValues): LoopLength | null {
  if (loop === undefined) {
    if (length === undefined || isWoven(join)) return null;
    throw new UserError('bad_flag', '--loop-length belongs to --loop auto or --join woven; give both.');
  }
  if (loop !== 'auto') throw new UserError('bad_flag', `--loop ${loop}: auto is what there is.`);
  // The round of a weave is looked for anyway.
  return isWoven(join) ? null : readLength(length);
}

function isWoven(join: string | undefined): boolean {
  const settings = readJoin(join);
  return settings !== null && joinOf(settings).woven !== undefined;
}

function readLength(length: string | undefined): LoopLength {
  if (length === undefined) return USUAL_LOOP_LENGTH;
  const [min, max, ...more] = length.split(',').map(Number);
  if (!(min >= 0 && max >= min) || more.length > 0) {
    throw new UserError('bad_flag', `--loop-length ${length}: give two numbers of seconds, MIN,MAX.`);
  }
  return { min, max };
}

function readPlate(text: string | undefined): number | 'auto' | null {
  return text === 'auto' ? 'auto' : number('plate', text, { min: 0, max: 10_000_000 }, true);
}

function readRipples(text: string | undefined): boolean {
  if (text !== undefined && text !== 'auto')
    throw new UserError('bad_flag', `--ripples ${text}: auto is what there is.`);
  return text === 'auto';
}

function readCrop(text: string | undefined): Rect | null {
  if (text === undefined) return null;
  const [x, y, width, height, ...more] = text
    .split(',')
    .map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  const areWhole = [x, y, width, height].every((value) => Number.isInteger(value) && value >= 0);
  if (!areWhole || width < 1 || height < 1 || more.length > 0) {
    throw new UserError('bad_flag', `--crop ${text}: give four whole numbers X,Y,WIDTH,HEIGHT in pixels.`);
  }
  return { x, y, width, height };
}

function choice<T extends string>(flag: Flag, text: string | undefined, names: readonly T[]): T | null {
  if (text === undefined) return null;
  const found = names.find((name) => name === text);
  if (!found) throw new UserError('bad_flag', `--${flag} ${text}: choose one of ${names.join(', ')}.`);
  return found;
}

function number(
  flag: Flag,
  text: string | undefined,
  bounds: { min: number; max: number },
  whole = false,
): number | null {
  if (text === undefined) return null;
  const value = Number(text);
  const fits = text.trim() !== '' && value >= bounds.min && value <= bounds.max;
  if (!fits || (whole && !Number.isInteger(value))) {
    throw new UserError(
      'bad_flag',
      `--${flag} ${text}: give a ${whole ? 'whole ' : ''}number from ${bounds.min} to ${bounds.max}.`,
    );
  }
  return value;
}

function seconds(flag: Flag, text: string | undefined): number | null {
  return number(flag, text, { min: 0, max: 86_400 });
}

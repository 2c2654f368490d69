import { parseArgs } from 'node:util';
import { DITHER_NAMES } from '@muted-pond/core/palette';
import { QUALITIES, QUALITY_NAMES, RECIPE_LIMITS, type WeighSettings } from '@muted-pond/core/recipe';

/** What the command line asks for; what it leaves open is null. */
export interface RenderFlags {
  readonly source: string;
  readonly out: string;
  readonly report: string | null;
  readonly recipe: string | null;
  /** Seconds of the upright footage. */
  readonly from: number | null;
  readonly to: number | null;
  readonly plays: number | null;
  readonly weigh: Partial<WeighSettings>;
}

/** One line for a person; the command then ends with 1. */
export class RenderRefusal extends Error {
  override readonly name = 'RenderRefusal';
}

/** Flags of the contract whose part is not built yet. They are refused by name, never ignored. */
const NOT_BUILT = [
  ...['crop', 'height', 'fit', 'speed', 'reverse', 'loop', 'loop-length', 'join', 'mask', 'plate', 'steady'],
  ...['even-light', 'ripples', 'limit'],
];
const NOT_BUILT_SWITCHES = new Set(['reverse', 'steady', 'even-light']);

const BUILT = [
  ...['source', 'from', 'to', 'width', 'fps', 'plays', 'colors', 'palette', 'dither', 'dither-strength'],
  ...['settle', 'squeeze', 'quality', 'recipe', 'out', 'report'],
] as const;

type Flag = (typeof BUILT)[number];

/** @throws RenderRefusal in one line for a flag that is unknown, not built, missing or out of range. */
export function readRenderFlags(args: readonly string[]): RenderFlags {
  const values = parse(args);
  const source = values.source?.[0];
  if (!source || !values.out) {
    throw new RenderRefusal('Name a video and where the result goes: --source FILE --out FILE.gif');
  }
  if ((values.source?.length ?? 0) > 1) {
    throw new RenderRefusal(
      'Several pictures as stills (--source FILE FILE …) are not built yet; give one video.',
    );
  }
  if (!/\.gif$/i.test(values.out)) {
    throw new RenderRefusal(`--out “${values.out}”: only .gif is built yet.`);
  }
  if (values.palette && values.palette !== 'loop') {
    throw new RenderRefusal(`--palette ${values.palette} is not built yet; leave it out or use loop.`);
  }
  return {
    source,
    out: values.out,
    report: values.report ?? null,
    recipe: values.recipe ?? null,
    from: seconds('from', values.from),
    to: seconds('to', values.to),
    plays: number('plays', values.plays, RECIPE_LIMITS.plays, true),
    weigh: readWeigh(values),
  };
}

type Values = Partial<Record<Exclude<Flag, 'source'>, string>> & { source?: string[] };

function parse(args: readonly string[]): Values {
  const options = Object.fromEntries([
    ...BUILT.map((name) => [name, { type: 'string' as const, multiple: name === 'source' }]),
    ...NOT_BUILT.map((name) => [
      name,
      { type: NOT_BUILT_SWITCHES.has(name) ? ('boolean' as const) : ('string' as const) },
    ]),
  ]);
  let parsed: { values: object; positionals: string[] };
  try {
    parsed = parseArgs({ args: [...args], options, allowPositionals: true, strict: true });
  } catch (error) {
    throw new RenderRefusal(String((error as Error).message).split('\n')[0]);
  }
  const refused = NOT_BUILT.find((name) => name in parsed.values);
  if (refused) throw new RenderRefusal(`--${refused} is not built yet; leave it out.`);
  const values = { ...parsed.values } as Values;
  if (parsed.positionals.length > 0) values.source = [...(values.source ?? []), ...parsed.positionals];
  return values;
}

function readWeigh(values: Values): Partial<WeighSettings> {
  const quality = choice('quality', values.quality, QUALITY_NAMES);
  const weigh: Partial<Record<keyof WeighSettings, unknown>> = {
    width: number('width', values.width, RECIPE_LIMITS.width, true),
    frameRate: number('fps', values.fps, RECIPE_LIMITS.frameRate),
    colors: number('colors', values.colors, RECIPE_LIMITS.colors, true),
    dither: choice('dither', values.dither, DITHER_NAMES),
    ditherStrength: number('dither-strength', values['dither-strength'], RECIPE_LIMITS.ditherStrength),
    settle: number('settle', values.settle, RECIPE_LIMITS.settle),
    squeeze: number('squeeze', values.squeeze, RECIPE_LIMITS.squeeze),
  };
  const given = Object.fromEntries(Object.entries(weigh).filter(([, value]) => value !== null));
  return { ...(quality ? QUALITIES[quality] : {}), ...given };
}

function choice<T extends string>(flag: Flag, text: string | undefined, names: readonly T[]): T | null {
  if (text === undefined) return null;
  const found = names.find((name) => name === text);
  if (!found) throw new RenderRefusal(`--${flag} ${text}: choose one of ${names.join(', ')}.`);
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
    throw new RenderRefusal(
      `--${flag} ${text}: give a ${whole ? 'whole ' : ''}number from ${bounds.min} to ${bounds.max}.`,
    );
  }
  return value;
}

function seconds(flag: Flag, text: string | undefined): number | null {
  return number(flag, text, { min: 0, max: 86_400 });
}

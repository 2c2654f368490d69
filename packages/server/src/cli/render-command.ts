import { LOOK_IDS } from '@muted-pond/core/colour';
import { VEIL_EFFECTS } from '@muted-pond/core/dress';
import { ODD_SIDES, QUALITY_NAMES } from '@muted-pond/core/files';
import { JOINS, USUAL_LOOP_LENGTH } from '@muted-pond/core/loop';
import { DITHER_NAMES, PALETTE_PLANS } from '@muted-pond/core/palette';
import { FIT_NAMES } from '@muted-pond/core/pixels';
import { RECIPE_LIMITS } from '@muted-pond/core/recipe';
import { Command, CommanderError, Option } from 'commander';

interface FlagAbout {
  /** What stands behind it; none for a switch. */
  readonly value?: string;
  readonly about: string;
  readonly isRepeated?: boolean;
}

/** What is called so on the command line. */
export const JOIN_NAMES = new Map(JOINS.map((join) => [join.name ?? join.kind, join]));

const among = (names: Iterable<string>) => [...names].join(', ');
const between = ({ min, max }: { readonly min: number; readonly max: number }) => `${min} to ${max}`;
const usual = USUAL_LOOP_LENGTH;

/** All flags, under the headings of the help. */
const FLAGS = {
  'What goes in, and where results go': {
    source: {
      value: 'FILE',
      about: 'a video or an animation; or pictures, each with a flag of its own',
      isRepeated: true,
    },
    out: {
      value: 'FILE',
      about: 'the result: .gif, .webp, .png, .avif, .mp4, .webm or .zip; several are made in one go',
      isRepeated: true,
    },
    recipe: { value: 'FILE', about: 'settings that were saved; flags go over them' },
    report: { value: 'FILE', about: 'figures measured on the results, as JSON' },
    poster: { value: 'FILE', about: 'one picture of the loop: .png, .jpg or .webp' },
    'poster-frame': { value: 'PLACE', about: 'which frame of the reel that is, from 0; or plate' },
    snippet: { value: 'FILE', about: 'a page that shows the results' },
  },
  'The part that loops, and how': {
    from: { value: 'SECONDS', about: 'where it starts' },
    to: { value: 'SECONDS', about: 'where it ends' },
    crop: { value: 'X,Y,WIDTH,HEIGHT', about: 'the part of the picture, pixels of the upright footage' },
    loop: { value: 'auto', about: 'finds the best seam' },
    'loop-length': {
      value: 'MIN,MAX',
      about: `seconds the loop may last (${usual.min},${usual.max})`,
    },
    join: {
      value: 'JOIN',
      about: `how the end meets the start: ${among(JOIN_NAMES.keys())}; after a colon, its length in frames`,
    },
    joins: { value: 'JOIN,…', about: 'joins that --loop auto may choose among' },
    speed: { value: 'TIMES', about: `how fast, ${between(RECIPE_LIMITS.speed)}` },
    smooth: { about: 'makes pictures between frames where the reel falls between them' },
    reverse: { about: 'backwards' },
    plays: { value: 'N', about: 'how often it is seen; 0 is without end' },
  },
  'What is held still': {
    plate: { value: 'FRAME', about: 'the frame that is held; auto takes the one that meets what moves best' },
    mask: { value: 'FILE', about: 'a picture in which white moves' },
    ripples: { value: 'auto', about: 'what moves is found' },
    steady: { about: 'holds the camera still' },
    'even-light': { about: 'holds the light still' },
  },
  'What is laid over it': {
    look: { value: 'LOOK:STRENGTH', about: `${among(LOOK_IDS)}; its strength, 0 to 100, may be left out` },
    grade: {
      value: 'NAME=NUMBER,…',
      about: 'exposure, contrast, black, saturation, warmth, tint, sharpness',
    },
    lut: { value: 'FILE', about: 'a table of colours, .cube' },
    caption: {
      value: 'WORDS@PLACE,SIZE,FROM-TO',
      about:
        'words over it; behind the @ a corner or side, per cent of the height, seconds, as far as they matter',
      isRepeated: true,
    },
    subtitles: { value: 'FILE', about: '.srt or .vtt' },
    border: { value: 'WIDTH,#rrggbb', about: 'pixels and a colour' },
    corner: { value: 'PIXELS', about: 'rounds the corners' },
    emblem: {
      value: 'FILE@PLACE,SIZE,FROM-TO',
      about: 'a picture or a drawing over it, placed in the same way',
      isRepeated: true,
    },
    veil: {
      value: 'X,Y,WIDTH,HEIGHT@FROM-TO,EFFECT',
      about: `hides a part of the footage; without a time always: ${among(VEIL_EFFECTS)}`,
      isRepeated: true,
    },
  },
  'How large and how light': {
    width: { value: 'PIXELS', about: `${between(RECIPE_LIMITS.width)}` },
    height: { value: 'PIXELS', about: 'with the width: a frame of exactly this size' },
    fit: { value: 'FIT', about: `how the picture takes its place in it: ${among(FIT_NAMES)}` },
    fps: { value: 'N', about: `frames a second, ${between(RECIPE_LIMITS.frameRate)}` },
    limit: { value: 'BYTES', about: 'the most bytes of the result; settings are lowered until it fits' },
    quality: { value: 'NAME', about: `of a GIF: ${among(QUALITY_NAMES)}` },
    'quality-of': {
      value: 'KIND=QUALITY',
      about: 'of one kind: webp=80 (or avif, mp4, webm, poster), apng=exact|settled|palette, gif=small',
      isRepeated: true,
    },
    colors: { value: 'N', about: `of a GIF, ${between(RECIPE_LIMITS.colors)}` },
    palette: { value: 'PLAN', about: among(PALETTE_PLANS) },
    dither: { value: 'NAME', about: among(DITHER_NAMES) },
    'dither-strength': { value: 'N', about: between(RECIPE_LIMITS.ditherStrength) },
    settle: { value: 'N', about: `how far small changes come to rest, ${between(RECIPE_LIMITS.settle)}` },
    squeeze: {
      value: 'N',
      about: `how far pixels may differ to pack better, ${between(RECIPE_LIMITS.squeeze)}`,
    },
    matte: { value: 'COLOUR', about: '#rrggbb behind what is transparent; or transparent' },
    interlaced: { about: 'a GIF that is seen coarsely first' },
    'repeat-to': { value: 'SECONDS', about: 'a movie that repeats until it lasts so long' },
    odd: { value: 'WAY', about: `what an MP4 does with odd sides: ${among(ODD_SIDES)}` },
  },
} as const satisfies Record<string, Record<string, FlagAbout>>;

type Groups = typeof FLAGS;
/** Flags, by the shape of what is read of them. */
type FlagsOf = { [Group in keyof Groups]: Groups[Group] }[keyof Groups];
type AllFlags = UnionToIntersection<FlagsOf>;
type UnionToIntersection<U> = (U extends unknown ? (one: U) => void : never) extends (all: infer I) => void
  ? I
  : never;
export type Flag = keyof AllFlags;

/** What was given, by the names of the flags. */
export type FlagValues = {
  readonly [Name in Flag]?: AllFlags[Name] extends { isRepeated: true }
    ? string[]
    : AllFlags[Name] extends { value: string }
      ? string
      : boolean;
};

const EXAMPLES = `
Examples:
  The best loop of two to three seconds, 480 px wide, with its figures:
    npm run render -- --source kettle.mov --loop auto --loop-length 2,3 --width 480 --out kettle.gif --report kettle.json
  Steam that moves over a picture that stands still, as three kinds of file, with a page that shows them:
    npm run render -- --source kettle.mov --plate auto --ripples auto --out k.gif --out k.webp --out k.mp4 --snippet k.html
  Pictures in their order, four times as fast as they come, in at most 500 KB:
    npm run render -- --source a.png --source b.png --speed 4 --limit 500000 --out menu.gif

What is read is never overwritten. docs/RECIPE.md says what each setting means.`;

/** @throws CommanderError for what cannot be understood, and after help was shown. */
export function parseFlags(args: readonly string[]): FlagValues {
  const command = new Command('render')
    .description('Makes a seamless loop of footage, without the server.')
    .usage('--source FILE --out FILE [flags]')
    .argument('[files...]', 'more sources')
    .helpOption('--help', 'shows this')
    .addHelpText('after', EXAMPLES)
    .showSuggestionAfterError(true)
    .configureHelp({ helpWidth: process.stdout.columns ?? 110 })
    .configureOutput({ writeErr: () => {} })
    .exitOverride();
  for (const [heading, flags] of Object.entries(FLAGS)) {
    for (const [name, flag] of Object.entries(flags) as [string, FlagAbout][]) {
      const option = new Option(`--${name}${flag.value ? ` <${flag.value}>` : ''}`, flag.about);
      if (flag.isRepeated) option.argParser((one: string, all: string[] = []) => [...all, one]);
      command.addOption(option.helpGroup(`${heading}:`));
    }
  }
  command.parse([...args], { from: 'user' });
  const options = command.opts();
  const values: Record<string, unknown> = {};
  for (const option of command.options) {
    const value = options[option.attributeName()];
    if (value !== undefined) values[option.name()] = value;
  }
  if (command.args.length > 0) values.source = [...((values.source as string[]) ?? []), ...command.args];
  return values as FlagValues;
}

/** Whether an error only says that help was shown. */
export function isHelp(error: unknown): boolean {
  return error instanceof CommanderError && error.exitCode === 0;
}

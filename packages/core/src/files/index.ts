import { apng } from './apng/kind.js';
import { avif } from './avif/kind.js';
import { frames } from './frames/kind.js';
import { gif } from './gif/kind.js';
import type { FileForm, FileKind } from './kind.js';
import { mp4 } from './mp4/kind.js';
import { poster } from './poster/kind.js';
import { webm } from './webm/kind.js';
import { webp } from './webp/kind.js';

/** All kinds of finished files, by their ids. */
export const FILE_KINDS = { gif, webp, apng, avif, mp4, webm, poster, frames } as const;

export type FileKindId = keyof typeof FILE_KINDS;

export const FILE_KIND_IDS = Object.keys(FILE_KINDS) as FileKindId[];

/** The settings of every kind, each under its id. */
export type KindSettings = {
  readonly [Id in FileKindId]: (typeof FILE_KINDS)[Id]['settings']['defaults'];
};

export const DEFAULT_KIND_SETTINGS = Object.fromEntries(
  FILE_KIND_IDS.map((id) => [id, FILE_KINDS[id].settings.defaults]),
) as KindSettings;

/** The kind itself, whichever it is. */
export function fileKind(id: FileKindId): FileKind<FileKindId, object> {
  return FILE_KINDS[id] as unknown as FileKind<FileKindId, object>;
}

/** Ending and type of a file with these settings. */
export function fileForm(weigh: KindSettings & { readonly kind: FileKindId }): FileForm {
  const kind = fileKind(weigh.kind);
  return kind.formOf?.(weigh[weigh.kind]) ?? kind;
}

/** The kind of a new piece, and of all files that were made before there were others. */
export const FIRST_KIND: FileKindId = 'gif';

/** The kind that is one picture, for where nothing may move. */
export const STILL_KIND: FileKindId = 'poster';

/** Kinds that show the whole loop, each as a file of its own. */
export const LOOP_KINDS = FILE_KIND_IDS.filter(
  (id) => FILE_KINDS[id].holds.motion && FILE_KINDS[id].shownAs !== 'list',
);

/** What is made where all kinds are asked for: the loop in each, and a still for where nothing may move. */
export const SENT_KINDS: readonly FileKindId[] = [...LOOP_KINDS, STILL_KIND];

/** What is tried where a place does not take the present kind, in this order. */
export const TRIED_KINDS: readonly FileKindId[] = FILE_KIND_IDS.map(fileKind)
  .filter(({ sendRank }) => sendRank !== null)
  .sort((one, other) => (one.sendRank ?? 0) - (other.sendRank ?? 0))
  .map(({ id }) => id);

export { APNG_COLOURS, type ApngColours, type ApngSettings } from './apng/kind.js';
export type { Deflate } from './apng/pack.js';
export { type ApngRendering, type RenderedApng, startApng } from './apng/render.js';
export { type AvifSettings, av1Crf } from './avif/kind.js';
export {
  ENCODED_LIMITS,
  type EncodedSettings,
  REPEAT_LIMITS,
  type RepeatedSettings,
  roundsOf,
} from './encoded.js';
export { QUALITIES, QUALITY_NAMES, type QualityName } from './gif/quality.js';
export {
  type GifRendering,
  type RenderedGif,
  type RenderOptions,
  renderGif,
  startRendering,
} from './gif/render.js';
export { DEFAULT_GIF, GIF_LIMITS, type GifSettings } from './gif/settings.js';
export type {
  FileForm,
  FileHolds,
  FileKind,
  KindFit,
  KindQuality,
  KindSaving,
  KindSavingName,
  ShownAs,
} from './kind.js';
export { h264Crf, MP4_LIMITS, type Mp4Settings, ODD_SIDES, type OddSides } from './mp4/kind.js';
export type { RenderProgress } from './plan-colours.js';
export { patienceOf } from './plan-colours.js';
export { POSTER_FORMATS, type PosterFormat, type PosterSettings, posterFormatOf } from './poster/kind.js';
export { vp9Crf, type WebmSettings } from './webm/kind.js';
export { WEBP_WAYS, type WebpSettings, type WebpWay } from './webp/kind.js';

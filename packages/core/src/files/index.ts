import { frames } from './frames/kind.js';
import { gif } from './gif/kind.js';
import type { FileKind } from './kind.js';
import { poster } from './poster/kind.js';

/** All kinds of finished files, by their ids. */
export const FILE_KINDS = { gif, poster, frames } as const;

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

export { QUALITIES, QUALITY_NAMES, type QualityName } from './gif/quality.js';
export {
  type GifRendering,
  type RenderedGif,
  type RenderOptions,
  type RenderProgress,
  renderGif,
  startRendering,
} from './gif/render.js';
export { DEFAULT_GIF, GIF_LIMITS, type GifSettings } from './gif/settings.js';
export type { FileHolds, FileKind } from './kind.js';
export type { PosterSettings } from './poster/kind.js';

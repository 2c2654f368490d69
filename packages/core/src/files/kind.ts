import type Joi from 'joi';
import type { DelayClock } from '../timing/index.js';
import type { FitModel } from '../weigh/index.js';

/** What a file can hold; asked before anything is made. */
export interface FileHolds {
  /** More than one picture. */
  readonly motion: boolean;
  /** Whether pixels can be transparent: none, wholly or not at all, or in part. */
  readonly alpha: 'none' | 'hard' | 'soft';
  /** In one picture; null where there is no such bound. */
  readonly mostColours: number | null;
  /** How finely it counts the time for which frames are shown. */
  readonly clock: DelayClock;
  /** Of a picture, px. */
  readonly mostSide: number;
  /** Whether it says how often it plays; movies leave that to the page. */
  readonly plays: boolean;
}

/** How settings of a kind are found under a limit. */
export interface KindFit<Settings> {
  readonly model: FitModel;
  /** The settings that carry the values of the model. */
  settingsOf(values: Readonly<Record<string, number>>): Partial<Settings>;
  /** The values of the settings. */
  valuesOf(settings: Settings): Readonly<Record<string, number>>;
}

/** A quality that is said in a word or a number, as the command line takes it. */
export interface KindQuality<Settings> {
  /** What can be said, for a person. */
  readonly words: string;
  /** The settings that a text asks for; null where it means nothing to this kind. */
  read(text: string): Partial<Settings> | null;
}

/** What a change of a kind's own settings is called. */
export type KindSavingName = 'settle' | 'squeeze' | 'fewer-colours' | 'lower-quality' | 'no-dither';

/** One thing changed. */
export interface KindSaving<Settings> {
  readonly kind: KindSavingName;
  readonly change: Partial<Settings>;
}

/** Ending, without a dot, and type of a file. */
export interface FileForm {
  readonly extension: string;
  readonly mime: string;
}

/** How a page shows a file; a list of pictures is not shown. */
export type ShownAs = 'image' | 'movie' | 'still' | 'list';

/**
 * A kind of finished file. A new kind is a folder beside these and a line in the list; how it is made and
 * read back stands in the server's list of makers, its fields in the interface's.
 */
export interface FileKind<Id extends string, Settings extends object> extends FileForm {
  readonly id: Id;
  /** For people. */
  readonly name: string;
  /** What it is good for, in a few words. */
  readonly about: string;
  readonly shownAs: ShownAs;
  readonly holds: FileHolds;
  /** Who takes its pictures apart again: the core, so that a page can do it too, or the server with a decoder. */
  readonly readBy: 'core' | 'server';
  /**
   * Its turn among the kinds that are tried where a place does not take the present one, the most widely taken first;
   * null for one that is never tried.
   */
  readonly sendRank: number | null;
  /** What only this kind has to be told. */
  readonly settings: { readonly schema: Joi.ObjectSchema<Settings>; readonly defaults: Settings };
  /** Where the ending depends on the settings. */
  formOf?(settings: Settings): FileForm;
  /** The settings in a few words. */
  words(settings: Settings): string;
  /** Null where there is none. */
  readonly quality: KindQuality<Settings> | null;
  /** What a file that was fitted under a limit gave up, where that is not `words`. */
  gaveUp?(settings: Settings): string;
  /** Null where nothing can be found under a limit. */
  readonly fit: KindFit<Settings> | null;
  /** Changes that may make the file lighter, one by one. */
  savings(settings: Settings): readonly KindSaving<Settings>[];
}

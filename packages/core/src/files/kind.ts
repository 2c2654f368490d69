import type Joi from 'joi';

/** What a file can hold; asked before anything is made. */
export interface FileHolds {
  /** More than one picture. */
  readonly motion: boolean;
  /** Whether places can be seen through: not at all, wholly or not at all, or in part. */
  readonly alpha: 'none' | 'hard' | 'soft';
  /** In one picture; null where there is no such bound. */
  readonly mostColours: number | null;
  /** The shortest that a frame can be shown, centiseconds. */
  readonly leastDelayCs: number;
  /** Of a picture, px. */
  readonly mostSide: number;
}

/**
 * A kind of finished file. A new kind is a folder beside these and a line in the list; how it is made and
 * read back stands in the server's list of makers, its fields in the interface's.
 */
export interface FileKind<Id extends string, Settings extends object> {
  readonly id: Id;
  /** For people. */
  readonly name: string;
  /** Without a dot. */
  readonly extension: string;
  readonly mime: string;
  readonly holds: FileHolds;
  /** What only this kind has to be told. */
  readonly settings: { readonly schema: Joi.ObjectSchema<Settings>; readonly defaults: Settings };
}

/** What can be kept for recipes beside footage. */
export const LAYER_KINDS = ['picture', 'emblem', 'table', 'font'] as const;

export type LayerKind = (typeof LAYER_KINDS)[number];

/** A kept file that recipes use beside footage. */
export interface LayerView {
  /** SHA-256 of the kept bytes; of another kind of file, of what it was turned into. */
  readonly hash: string;
  /** Of a picture, px; else 0. */
  readonly width: number;
  readonly height: number;
  /** What was left out or changed, in sentences. */
  readonly notes: readonly string[];
}

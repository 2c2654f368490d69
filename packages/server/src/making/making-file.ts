import type { SourceFile } from '@muted-pond/core/recipe';
import { frameTimes, type MediaFacts } from '../media/index.js';

/** One of the files that a piece is made from. Plain data: it travels between threads. */
export interface MakingFile {
  readonly hash: string;
  readonly path: string;
  /** What the user calls it, for messages. */
  readonly name: string;
  readonly facts: MediaFacts;
}

/** What recipes need to know of it. */
export function sourceFile({ hash, facts }: Pick<MakingFile, 'hash' | 'facts'>): SourceFile {
  return { hash, size: { width: facts.width, height: facts.height }, times: frameTimes(facts) };
}

import { fileKind } from '@muted-pond/core/files';
import type { WeighSettings } from '@muted-pond/core/recipe';

/** What a fitted file gave up beside its width and rate, which stand before it. */
export function gaveUpWords(weigh: WeighSettings): string {
  const kind = fileKind(weigh.kind);
  const settings = weigh[weigh.kind];
  return kind.gaveUp?.(settings) ?? kind.words(settings);
}

import { fileKind, type GifSettings, QUALITIES } from '@muted-pond/core/files';
import type { WeighSettings } from '@muted-pond/core/recipe';

/** What a fitted file gave up beside its width and rate, which stand before it. */
export function gaveUpWords(weigh: WeighSettings): string {
  return weigh.kind === 'gif' ? gifWords(weigh.gif) : fileKind(weigh.kind).words(weigh[weigh.kind]);
}

function gifWords({ colors, settle, squeeze }: Pick<GifSettings, 'colors' | 'settle' | 'squeeze'>): string {
  const { 'near-lossless': nearLossless, balanced, small } = QUALITIES;
  const rest =
    settle > small.settle || squeeze > small.squeeze
      ? 'coarse in what moves'
      : settle > balanced.settle || squeeze > balanced.squeeze
        ? 'small changes dropped'
        : settle > nearLossless.settle || squeeze > nearLossless.squeeze
          ? 'hardly anything dropped'
          : 'nothing dropped';
  return colors < 256 ? `${colors} colours, ${rest}` : rest;
}

import { FILE_KIND_IDS, type KindSettings } from '../files/index.js';
import type { SharedWeigh, WeighSettings } from './recipe.js';

/** Some of the weigh settings: of what all kinds share, and of what each has for itself. */
export type WeighChange = Partial<SharedWeigh> & {
  readonly [Id in keyof KindSettings]?: Partial<KindSettings[Id]>;
};

/** The settings with some of them changed. */
export function changeWeigh(weigh: WeighSettings, change: WeighChange): WeighSettings {
  const kinds = FILE_KIND_IDS.flatMap((id) => (change[id] ? [[id, { ...weigh[id], ...change[id] }]] : []));
  return { ...weigh, ...change, ...Object.fromEntries(kinds) };
}

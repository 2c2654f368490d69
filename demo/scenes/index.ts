import { kettleScene } from './kettle.js';
import { koiScene } from './koi.js';
import { lanternScene } from './lantern.js';
import type { Scene } from './scene.js';
import { sidewaysScene } from './sideways.js';

/** Every piece of demo footage. A new one is a file beside these and a line here. */
export const SCENES: readonly (() => Scene)[] = [lanternScene, kettleScene, koiScene, sidewaysScene];
export { MARGIN, type Mover, type Scene } from './scene.js';

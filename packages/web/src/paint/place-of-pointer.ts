import type { DrawWay } from '../stage/draw.js';
import type { PlaceOn } from './painter.js';
import { placeOnTake } from './pointer-place.js';

/** Where the pointer is, for a mask of the take's shape that may still be loading. */
export function placeOfPointer(event: PointerEvent, target: HTMLElement, way: DrawWay): PlaceOn {
  const box = target.getBoundingClientRect();
  const at = placeOnTake(way, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
  const pressure = event.pointerType === 'pen' ? Math.max(0.05, event.pressure) : 1;
  return (mask) => ({
    x: (at.x * mask.width) / way.takeSize.width,
    y: (at.y * mask.height) / way.takeSize.height,
    pressure,
  });
}

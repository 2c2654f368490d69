import type { Size } from '@muted-pond/core/pixels';

/** The largest size of the picture's shape that the room holds, whole pixels. */
export function fillRoom(picture: Size, room: Size): Size {
  const scale = Math.max(0, Math.min(room.width / picture.width, room.height / picture.height));
  return { width: Math.floor(picture.width * scale), height: Math.floor(picture.height * scale) };
}

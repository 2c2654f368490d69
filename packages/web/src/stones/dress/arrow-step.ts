const WAYS: ReadonlyMap<string, readonly [across: number, down: number]> = new Map([
  ['ArrowLeft', [-1, 0]],
  ['ArrowRight', [1, 0]],
  ['ArrowUp', [0, -1]],
  ['ArrowDown', [0, 1]],
]);
/** With Shift. */
const FARTHER = 10;

/** Where an arrow key moves something, in steps; null for every other key. */
export function arrowStep({
  key,
  shiftKey,
}: {
  readonly key: string;
  readonly shiftKey: boolean;
}): readonly [across: number, down: number] | null {
  const way = WAYS.get(key);
  if (!way) return null;
  const steps = shiftKey ? FARTHER : 1;
  return [way[0] * steps, way[1] * steps];
}

/** The corners that things are sized by. */
export const CORNERS = ['nw', 'ne', 'sw', 'se'] as const;

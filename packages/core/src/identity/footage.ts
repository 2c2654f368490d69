import type { Derivation } from './identity.js';

/**
 * What is derived from a file of footage alone. A version goes up when the same file gives another result: what
 * was kept under the version before is thrown away, and browsers ask anew.
 */
export const OF_FOOTAGE = {
  /** When each frame appears. */
  times: { name: 'times', version: 1 },
  /** Working frames for the stage. */
  frames: { name: 'frames', version: 1 },
  /** Small frames for the strip. */
  small: { name: 'small', version: 1 },
  /** Frames in full size. */
  full: { name: 'full', version: 1 },
  /** The strip's first look. */
  strip: { name: 'strip', version: 1 },
  /** What happens from each frame to the next. */
  activity: { name: 'activity', version: 2 },
  /** Frames as a few numbers, to be compared. */
  signatures: { name: 'signatures', version: 2 },
  /** Frames in small, on which joints are judged. */
  looks: { name: 'looks', version: 1 },
  /** Where a stretch moves. */
  motion: { name: 'motion', version: 1 },
} as const satisfies Record<string, Derivation>;

export type OfFootage = keyof typeof OF_FOOTAGE;

/**
 * The name of something that is derived from one file of footage, unique among all of that file.
 * @param more numbers that it also depends on, such as the first and the last frame.
 */
export function footageKey(of: OfFootage, ...more: readonly number[]): string {
  const { name, version } = OF_FOOTAGE[of];
  return [`${name}@${version}`, ...more].join('-');
}

/** Whether a key is of a version that is not made any more. Keys of anything else are not. */
export function isOutdatedFootageKey(key: string): boolean {
  const [, name, version] = /^([a-z]+)(?:@(\d+))?(?:-\d+)*$/.exec(key) ?? [];
  return (
    name !== undefined &&
    Object.hasOwn(OF_FOOTAGE, name) &&
    Number(version) !== OF_FOOTAGE[name as OfFootage].version
  );
}

/** The address of something that is derived from footage, below `footage/`. Browsers may keep its answer. */
export function footagePath(footage: string, of: OfFootage, ...more: readonly number[]): string {
  const { name, version } = OF_FOOTAGE[of];
  return `${[footage, name, ...more].join('/')}?v=${version}`;
}

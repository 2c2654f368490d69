import Joi from 'joi';

/** When something is seen, centiseconds of the reel, end exclusive; null is the whole loop. */
export interface ShownTime {
  readonly fromCs: number;
  readonly toCs: number;
}

/** The longest reel that times are given in. */
export const MOST_TIME_CS = 360_000;

const moment = Joi.number().integer().min(0).max(MOST_TIME_CS).required();
export const timeSchema = Joi.object<ShownTime>({
  fromCs: moment,
  toCs: moment.greater(Joi.ref('fromCs')),
});

/**
 * How much of something is seen at a moment, 0–1. With a fade it comes and goes over its own time, inside it;
 * the whole loop is never faded, since its end is its beginning.
 */
export function seenAt(time: ShownTime | null, fadeCs: number, atCs: number): number {
  if (!time) return 1;
  if (atCs < time.fromCs || atCs >= time.toCs) return 0;
  if (fadeCs === 0) return 1;
  const fade = Math.min(fadeCs, (time.toCs - time.fromCs) / 2);
  return Math.min(1, (atCs - time.fromCs + 1) / (fade + 1), (time.toCs - atCs) / (fade + 1));
}

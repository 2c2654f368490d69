import { seededRandom } from './random.js';

/** Where the camera looks at one moment: picture shift in px, roll in radians. */
export interface CameraPose {
  readonly x: number;
  readonly y: number;
  readonly roll: number;
}

/** A path over time in seconds. */
export type CameraPath = (seconds: number) => CameraPose;

/**
 * Small hand-held movement: breathing and tremor as a few slow waves whose frequencies share no period.
 * @param reach RMS shift per axis, px.
 */
export function handHeld(seed: number, reach: number): CameraPath {
  const random = seededRandom(seed);
  const axis = (amount: number) => {
    const waves = [0.13, 0.37, 0.93, 2.3].map((hertz, i) => ({
      hertz: hertz * (0.85 + 0.3 * random()),
      phase: random() * Math.PI * 2,
      amount: amount * [1, 0.5, 0.16, 0.05][i],
    }));
    return (t: number) =>
      waves.reduce((sum, wave) => sum + wave.amount * Math.sin(2 * Math.PI * wave.hertz * t + wave.phase), 0);
  };
  const x = axis(reach);
  const y = axis(reach * 0.8);
  const roll = axis(reach * 0.00035);
  return (t) => ({ x: x(t), y: y(t), roll: roll(t) });
}

/** Light drift and flicker as a gain around 1. */
export function lightDrift(seed: number, drift: number, flicker: number): (seconds: number) => number {
  const random = seededRandom(seed);
  const phases = Array.from({ length: 6 }, () => random() * Math.PI * 2);
  return (t) =>
    1 +
    drift * Math.sin(2 * Math.PI * 0.11 * t + phases[0]) +
    flicker *
      (0.5 * Math.sin(2 * Math.PI * 3.1 * t + phases[1]) +
        0.35 * Math.sin(2 * Math.PI * 5.3 * t + phases[2]) +
        0.3 * Math.sin(2 * Math.PI * 1.27 * t + phases[3]) +
        0.25 * Math.sin(2 * Math.PI * 7.9 * t + phases[4]));
}

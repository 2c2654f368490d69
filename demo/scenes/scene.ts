import type { CameraPath } from '../paint/camera.js';
import type { Light } from '../paint/light.js';

/** One moving thing and the time after which it repeats; null where it never does. */
export interface Mover {
  readonly name: string;
  readonly periodSeconds: number | null;
}

/** Room around the picture into which the camera may drift, px on every side. */
export const MARGIN = 16;

/** A made-up scene that can be looked at at any moment. */
export interface Scene {
  readonly name: string;
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly framesPerSecond: number;
  readonly seconds: number;
  readonly movers: readonly Mover[];
  readonly camera: CameraPath;
  readonly gain: (seconds: number) => number;
  readonly vignette: number;
  /** Grain, levels. */
  readonly grain: number;
  /** Moments averaged while the shutter is open (half the frame's time). */
  readonly shutterSamples: number;
  readonly encoder: readonly string[];
  /** Stored a quarter turn to the left, as phones do; the encoder's arguments say how to turn it back. */
  readonly storedTurned?: boolean;
  /** The scene without camera, light drift or grain, `width + 2 MARGIN` by `height + 2 MARGIN`. */
  paint(seconds: number): Light;
}

import { UserError } from '../errors/index.js';
import { placePicture, type Rect, type Size } from '../pixels/index.js';
import type { FrameTimes } from '../timing/index.js';
import type { Recipe } from './recipe.js';
import type { StillsSource } from './source.js';

/** What a recipe needs to know of a file: its upright size, and when its frames are shown. */
export interface SourceFile {
  readonly hash: string;
  readonly size: Size;
  readonly times: FrameTimes;
}

/** One frame of a take: which frame of which file, and where that picture lies on the take's canvas. */
export interface TakeFrame {
  readonly file: SourceFile;
  readonly frame: number;
  /** In the canvas's pixels; may reach beyond it, or leave room. */
  readonly placement: Rect;
}

/** The numbered frames that a recipe's span, crop and all later steps count in: footage or stills alike. */
export interface Take {
  readonly size: Size;
  readonly times: FrameTimes;
  frame(index: number): TakeFrame;
}

/** @throws RangeError naming the file that is not among those given. */
export function takeOf(recipe: Pick<Recipe, 'sources'>, files: Iterable<SourceFile>): Take {
  const byHash = new Map([...files].map((file) => [file.hash, file]));
  const fileOf = (hash: string): SourceFile => {
    const file = byHash.get(hash);
    if (!file)
      throw new UserError(
        'file_not_here',
        `The file ${hash.slice(0, 8)} of this recipe is not here. Bring it in again.`,
      );
    return file;
  };
  const [source] = recipe.sources;
  return source.kind === 'footage' ? footageTake(fileOf(source.hash)) : stillsTake(source, fileOf);
}

function footageTake(file: SourceFile): Take {
  const placement = { x: 0, y: 0, ...file.size };
  return { size: file.size, times: file.times, frame: (frame) => ({ file, frame, placement }) };
}

function stillsTake(source: StillsSource, fileOf: (hash: string) => SourceFile): Take {
  const { pictures, canvas, delayCs } = source;
  const files = pictures.map((picture) => fileOf(picture.hash));
  const seconds = delayCs / 100;
  return {
    size: canvas,
    times: { starts: files.map((_, index) => index * seconds), duration: files.length * seconds },
    frame(index) {
      const { fit, focus } = pictures[index];
      const file = files[index];
      return { file, frame: 0, placement: placePicture(file.size, canvas, fit ?? source.fit, focus) };
    },
  };
}

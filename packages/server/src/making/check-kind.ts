import { UserError } from '@muted-pond/core/errors';
import { fileKind } from '@muted-pond/core/files';
import type { Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';

/** What is known before the first frame is decoded. */
export interface ToBeMade {
  readonly size: Size;
  readonly frames: number;
  readonly mayBeClear: boolean;
}

/** The shortest movie. */
const FEWEST_MOVIE_FRAMES = 2;

/**
 * Whether the recipe's kind of file can hold it.
 * @throws UserError kind_cannot_hold, with what cannot be held and what to do.
 */
export function checkKind({ weigh }: Recipe, { size, frames, mayBeClear }: ToBeMade): void {
  const { name, holds, shownAs } = fileKind(weigh.kind);
  const side = Math.max(size.width, size.height);
  const refuse = (sentence: string) => {
    throw new UserError('kind_cannot_hold', sentence);
  };
  if (side > holds.mostSide) {
    refuse(
      `The picture is ${size.width} × ${size.height} px, and ${name} holds at most ${holds.mostSide} px a side. Lower the width, or choose another kind of file.`,
    );
  }
  if (shownAs === 'movie' && frames < FEWEST_MOVIE_FRAMES) {
    refuse(
      `The reel has one frame, and ${name} is a movie. Widen the span in Cut, or choose a poster instead.`,
    );
  }
  if (mayBeClear && holds.alpha === 'none' && weigh.matte === 'transparent') {
    refuse(
      `The picture is transparent in part, and ${name} cannot hold that. Choose a colour that shows behind it (“Mixed with” in Weigh, or --matte), or WebM, WebP or APNG.`,
    );
  }
}

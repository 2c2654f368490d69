import { fitRect, type Size } from '../pixels/index.js';
import { boundaryTime, fitSpan, nearestBoundary } from '../timing/index.js';
import type { Recipe } from './recipe.js';
import type { SourceFile } from './take.js';

/**
 * The same recipe over a better version of one file: span, plate and ripples stay at the same seconds, the crop on the same part of
 * the picture. Width and canvas stay as they were asked for.
 */
export function replaceSource(recipe: Recipe, old: SourceFile, better: SourceFile): Recipe {
  const [source] = recipe.sources;
  if (source.kind === 'stills') {
    const pictures = source.pictures.map((picture) =>
      picture.hash === old.hash ? { ...picture, hash: better.hash } : picture,
    );
    return { ...recipe, sources: [{ ...source, pictures }] };
  }
  if (source.hash !== old.hash) return recipe;
  const at = (boundary: number) => nearestBoundary(better.times, boundaryTime(old.times, boundary));
  const isWhole = recipe.span.start === 0 && recipe.span.end === old.times.starts.length;
  const frames = better.times.starts.length;
  const span = isWhole
    ? { start: 0, end: frames }
    : { start: at(recipe.span.start), end: at(recipe.span.end) };
  const { crop } = recipe.framing;
  const { still } = recipe;
  const frameAt = (frame: number) => Math.min(at(frame), frames - 1);
  return {
    ...recipe,
    sources: [{ ...source, hash: better.hash }],
    span: fitSpan(span, frames),
    framing: { ...recipe.framing, crop: crop && scaleRect(crop, old.size, better.size) },
    still: {
      ...still,
      plate: still.plate && { ...still.plate, frame: frameAt(still.plate.frame) },
      ripples: still.ripples.map((ripple) => {
        if (!ripple.loop) return ripple;
        const own = { start: at(ripple.loop.span.start), end: at(ripple.loop.span.end) };
        return { ...ripple, loop: { ...ripple.loop, span: fitSpan(own, frames) } };
      }),
    },
  };
}

function scaleRect(rect: { x: number; y: number; width: number; height: number }, from: Size, to: Size) {
  const across = to.width / from.width;
  const down = to.height / from.height;
  return fitRect(
    { x: rect.x * across, y: rect.y * down, width: rect.width * across, height: rect.height * down },
    to,
  );
}

import 'react-image-crop/dist/ReactCrop.css';
import { fitRect, type Rect, type Size, turnedSize, turnRect, turnRectBack } from '@muted-pond/core/pixels';
import type { ReactNode } from 'react';
import ReactCrop, { type PixelCrop } from 'react-image-crop';
import { useStore } from 'zustand';
import { useLimits } from '../../api/limits.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { shapeById, withCrop } from './crop-edits.js';
import { setCropView, useCropView } from './crop-view.js';
import classes from './cut.module.css';

interface CropOnPictureProps {
  readonly picture: ReactNode;
  /** The picture's size on the screen. */
  readonly shown: Size;
}

/** The crop, drawn and moved on the picture as it stands: turned and mirrored. */
export function CropOnPicture({ picture, shown }: CropOnPictureProps) {
  const { store } = useWorkspace();
  const { size } = useTake();
  const { crop, turn, mirror } = useStore(store, (state) => shownRecipe(state).framing);
  const limits = useLimits();
  const shape = shapeById(
    useCropView((state) => state.shape),
    limits,
  );
  const standing = turnedSize(size, turn);
  const scale = shown.width / standing.width;

  const onScreen = crop && scaled(turnRect(crop, size, turn, mirror), scale);
  const fromScreen = (drawn: PixelCrop): Rect | null => {
    if (drawn.width < 1 || drawn.height < 1) return null;
    const rect = scaled(drawn, 1 / scale);
    return fitRect(turnRectBack(fitRect(rect, standing), size, turn, mirror), size);
  };

  return (
    <ReactCrop
      className={`${classes.crop} ReactCrop--no-animate`}
      ruleOfThirds
      keepSelection
      aspect={shape.size ? shape.size.width / shape.size.height : undefined}
      minWidth={Math.min(24, shown.width)}
      minHeight={Math.min(24, shown.height)}
      crop={onScreen ? { unit: 'px', ...onScreen } : { unit: 'px', x: 0, y: 0, ...shown }}
      onChange={(drawn) => {
        const rect = fromScreen(drawn);
        if (rect && !sameRect(rect, crop ?? { x: 0, y: 0, ...size })) {
          store.getState().preview((recipe) => withCrop(recipe, rect, size));
        }
      }}
      onComplete={() => {
        setCropView({ drawn: shownRecipe(store.getState()).framing.crop });
        store.getState().keepDraft();
      }}
    >
      <div style={shown}>{picture}</div>
    </ReactCrop>
  );
}

function scaled({ x, y, width, height }: Rect, scale: number): Rect {
  return { x: x * scale, y: y * scale, width: width * scale, height: height * scale };
}

/** A screen pixel may be several of the picture: what only trembles by them has not moved. */
function sameRect(a: Rect, b: Rect): boolean {
  return a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height;
}

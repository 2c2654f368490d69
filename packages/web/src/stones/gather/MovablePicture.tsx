import type { Focus, Size } from '@muted-pond/core/pixels';
import { type ReactNode, useRef } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import classes from './gather.module.css';
import { editPicture, movedFocus } from './stills-edits.js';

/** How far an arrow key moves it, canvas pixels. */
const KEY_STEP = 8;

/** The picture of stills on its canvas: dragged, or moved by arrow keys, to choose what stays in sight. */
export function MovablePicture({ picture, shown }: { picture: ReactNode; shown: Size }) {
  const { store, session } = useWorkspace();
  const take = useTake();
  const source = useStore(store, (state) => shownRecipe(state).sources[0]);
  const turn = useStore(store, (state) => shownRecipe(state).framing.turn);
  const index = useStore(session, (state) => Math.min(state.playhead, take.frameCount - 1));
  const from = useRef<{ readonly x: number; readonly y: number; readonly focus: Focus } | null>(null);
  if (source.kind !== 'stills') return picture;

  const still = source.pictures[index];
  const { file } = take.frame(index);
  // Pixels of the canvas for one of the screen; a turned picture lies as the screen shows it in Cut.
  const scale = (turn % 180 === 0 ? take.size.width : take.size.height) / shown.width;
  const move = (focus: Focus, x: number, y: number) =>
    store.getState().preview((recipe) =>
      editPicture(recipe, index, {
        focus: movedFocus(file.size, take.size, still.fit ?? source.fit, focus, { x, y }),
      }),
    );
  return (
    // biome-ignore lint/a11y/useSemanticElements: a picture that is moved is no button
    <div
      role="group"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved by arrow keys
      tabIndex={0}
      data-own-arrows
      aria-label="The picture on its canvas; arrow keys move it"
      className={classes.movable}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        session.getState().setPlaying(false);
        from.current = { x: event.clientX, y: event.clientY, focus: still.focus };
      }}
      onPointerMove={(event) => {
        if (!from.current) return;
        const { x, y, focus } = from.current;
        move(focus, (event.clientX - x) * scale, (event.clientY - y) * scale);
      }}
      onPointerUp={() => {
        from.current = null;
        store.getState().keepDraft();
      }}
      onPointerCancel={() => {
        from.current = null;
        store.getState().dropDraft();
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
        if (!by) return;
        event.preventDefault();
        event.stopPropagation();
        move(still.focus, by[0] * KEY_STEP, by[1] * KEY_STEP);
        store.getState().keepDraft();
      }}
    >
      {picture}
    </div>
  );
}

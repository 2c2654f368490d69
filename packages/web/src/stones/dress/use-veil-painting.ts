import { createMask, type Mask } from '@muted-pond/core/still';
import { useMemo, useRef, useState } from 'react';
import { keepMask, loadMask, maskToCanvas, writeMask } from '../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../paint/mask-size.js';
import type { PaintHands } from '../../paint/PaintGround.js';
import { createPainter, type PainterDoors, type PlaceOn } from '../../paint/painter.js';
import { placeOfPointer } from '../../paint/place-of-pointer.js';
import { takeNow } from '../../piece/piece-take.js';
import { useWorkspace, type Workspace } from '../../piece/workspace-context.js';
import type { DrawWay } from '../../stage/draw.js';
import { tellProblem } from '../../ui/notify.js';
import { addEntry, changeEntry, removeEntry } from './dress-edits.js';
import { setDressView, useDressView } from './dress-view.js';
import { boundsOf, newVeil, rebased, rectAt } from './veil-edits.js';

/** Paint of a veil while the hand is down. */
export interface WetVeil {
  readonly canvas: OffscreenCanvas;
  readonly version: number;
}

/** Strokes that hide; each is kept as one undo step. A stroke with no veil chosen makes one. */
export function useVeilPainting(way: DrawWay): { readonly wet: WetVeil | null; readonly hands: PaintHands } {
  const workspace = useWorkspace();
  const canvas = useRef<OffscreenCanvas | null>(null);
  const [wet, setWet] = useState<WetVeil | null>(null);
  const painter = useMemo(
    () =>
      createPainter({
        ...veilDoors(workspace),
        begun(mask) {
          canvas.current = maskToCanvas(mask);
          setWet({ canvas: canvas.current, version: 0 });
        },
        painted(mask, part) {
          if (canvas.current) writeMask(canvas.current, mask, part);
          setWet((before) => before && { ...before, version: before.version + 1 });
        },
        dry: () => setWet(null),
        failed: tellProblem,
      }),
    [workspace],
  );
  const onMask = (place: PlaceOn): PlaceOn => {
    const veil = chosenVeil(workspace);
    if (!veil) return place;
    // What was painted moves along: a stroke lands where it lay on the first frame.
    const now = rectAt(veil, workspace.session.getState().playhead);
    const [first] = veil.keys;
    return (mask) => {
      const point = place(mask);
      const across = (point.x / mask.width - now.x) / now.width;
      const down = (point.y / mask.height - now.y) / now.height;
      return {
        ...point,
        x: (first.x + across * first.width) * mask.width,
        y: (first.y + down * first.height) * mask.height,
      };
    };
  };
  return {
    wet,
    hands: {
      onPointerDown(event) {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        workspace.session.getState().setPlaying(false);
        painter.begin(onMask(placeOfPointer(event.nativeEvent, event.currentTarget, way)));
      },
      onPointerMove(event) {
        const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
        const all = events.length > 0 ? events : [event.nativeEvent];
        painter.move(all.map((one) => onMask(placeOfPointer(one, event.currentTarget, way))));
      },
      onPointerUp: () => painter.end(),
    },
  };
}

function chosenVeil({ store }: Workspace) {
  const { chosen } = useDressView.getState();
  const veil = store.getState().recipe.dress.veils.find((one) => one.id === chosen);
  return veil?.shape === 'painted' ? veil : null;
}

function veilDoors(workspace: Workspace): Pick<PainterDoors, 'active' | 'load' | 'brush' | 'keep'> {
  const { store, session } = workspace;
  return {
    active: () => chosenVeil(workspace)?.id ?? null,
    async load({ id }) {
      const veil = store.getState().recipe.dress.veils.find((one) => one.id === id);
      const size = sizeOfMasks(takeNow(workspace).size);
      return veil?.mask ? loadMask(veil.mask) : createMask(size.width, size.height);
    },
    brush(mask: Mask) {
      const { size, softness, way } = useDressView.getState().brush;
      const radius = Math.max(1, ((size / 2) * mask.width) / takeNow(workspace).size.width);
      return { radius, softness, strength: 1, way };
    },
    async keep(mask, target) {
      const bounds = boundsOf(mask);
      const veil = store.getState().recipe.dress.veils.find((one) => one.id === target.id);
      if (!bounds) {
        if (veil) store.getState().change((recipe) => removeEntry(recipe, 'veils', veil.id));
        target.id = null;
        return;
      }
      const hash = await keepMask(mask, 'The veil');
      if (veil) {
        store
          .getState()
          .change((recipe) =>
            changeEntry(recipe, 'veils', veil.id, { mask: hash, keys: rebased(veil.keys, bounds) }),
          );
        return;
      }
      const id = crypto.randomUUID();
      const { playhead } = session.getState();
      store
        .getState()
        .change((recipe) => addEntry(recipe, 'veils', newVeil(id, 'painted', bounds, playhead, hash)));
      target.id = id;
      setDressView({ chosen: id });
    },
  };
}

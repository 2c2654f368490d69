import { createMask, type Mask } from '@muted-pond/core/still';
import { useMemo } from 'react';
import { keepMask, loadMask } from '../../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../../paint/mask-size.js';
import type { PlaceOn } from '../../../paint/painter.js';
import { type Painting, type PaintKeeping, usePainter } from '../../../paint/use-painter.js';
import { takeNow } from '../../../piece/piece-take.js';
import { useWorkspace, type Workspace } from '../../../piece/workspace-context.js';
import type { DrawWay } from '../../../stage/draw.js';
import { addEntry, changeEntry, removeEntry } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import { boundsOf, newVeil, rebased, rectAt } from './veil-edits.js';

/** Strokes that hide; each is kept as one undo step. A stroke with no veil chosen makes one. */
export function useVeilPainting(way: DrawWay): Painting {
  const workspace = useWorkspace();
  const keeping = useMemo(() => veilKeeping(workspace), [workspace]);
  return usePainter({
    ...{ way, keeping },
    onBegin: () => workspace.session.getState().setPlaying(false),
    moved: (place) => movedAlong(place, workspace),
  });
}

/** What was painted moves along with its veil: a stroke lands where it lay on the first frame. */
function movedAlong(place: PlaceOn, workspace: Workspace): PlaceOn {
  const veil = chosenVeil(workspace);
  if (!veil) return place;
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
}

function chosenVeil({ store }: Workspace) {
  const { chosen } = useDressView.getState();
  const veil = store.getState().recipe.dress.veils.find((one) => one.id === chosen);
  return veil?.shape === 'painted' ? veil : null;
}

function veilKeeping(workspace: Workspace): PaintKeeping {
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

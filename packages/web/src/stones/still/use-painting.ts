import { createMask, type Mask } from '@muted-pond/core/still';
import { useMemo } from 'react';
import { keepMask, loadMask } from '../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../paint/mask-size.js';
import { type Painting, type PaintKeeping, usePainter } from '../../paint/use-painter.js';
import { loopNow } from '../../piece/piece-loop.js';
import { takeNow } from '../../piece/piece-take.js';
import { useWorkspace, type Workspace } from '../../piece/workspace-context.js';
import type { DrawWay } from '../../stage/draw.js';
import { withPaint } from './still-edits.js';
import { setStillView, useStillView } from './still-view.js';

/** Strokes on the picture, one undo step each. */
export function usePainting(way: DrawWay): Painting {
  const workspace = useWorkspace();
  const keeping = useMemo(() => paintKeeping(workspace), [workspace]);
  return usePainter({
    ...{ way, keeping },
    onBegin() {
      if (!workspace.store.getState().recipe.still.plate) setStillView({ firstHeld: shownFrame(workspace) });
    },
  });
}

/** Loads and keeps paint where the piece keeps it. */
function paintKeeping(workspace: Workspace): PaintKeeping {
  const ripplesNow = () => workspace.store.getState().recipe.still.ripples;
  return {
    dry: () => setStillView({ firstHeld: null }),
    active() {
      const { active } = useStillView.getState();
      return ripplesNow().some((ripple) => ripple.id === active) ? active : null;
    },
    async load({ id }) {
      const ripple = ripplesNow().find((one) => one.id === id);
      const size = sizeOfMasks(takeNow(workspace).size);
      return ripple?.mask ? loadMask(ripple.mask) : createMask(size.width, size.height);
    },
    brush(mask: Mask) {
      const { softness, strength, way, size } = useStillView.getState();
      const radius = Math.max(1, ((size / 2) * mask.width) / takeNow(workspace).size.width);
      return { radius, softness, strength, way };
    },
    async keep(mask, target) {
      const hash = await keepMask(mask, 'The paint');
      const frame = useStillView.getState().firstHeld ?? shownFrame(workspace);
      const { still } = workspace.store.getState().recipe;
      const painted = withPaint(still, target.id, hash, frame);
      workspace.store.getState().change((recipe) => ({ ...recipe, still: painted.still }));
      // Whoever went on to another ripple meanwhile stays there.
      if (useStillView.getState().active === target.id || target.id === null) {
        setStillView({ active: painted.id });
      }
      target.id = painted.id;
    },
  };
}

/** The frame of the take on the stage. */
function shownFrame(workspace: Workspace): number {
  const { place } = workspace.session.getState();
  const loop = loopNow(workspace);
  return loop?.reel[Math.min(place, loop.round - 1)].source ?? 0;
}

import { type MovingParts, PROPOSED_EDGE, partAt, partMask } from '@muted-pond/core/still';
import { type PointerEvent, useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { useMotion } from '../../api/layers.js';
import { keepMask } from '../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../paint/mask-size.js';
import { placeOnTake } from '../../paint/pointer-place.js';
import { loopNow } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { type DrawWay, drawFrame } from '../../stage/draw.js';
import stage from '../../stage/stage.module.css';
import { shownRecipe } from '../../store/piece-store.js';
import { tellProblem } from '../../ui/notify.js';
import { sentenceOf } from '../../ui/sentence.js';
import classes from './still.module.css';
import { rippleName, withRipple } from './still-edits.js';
import { setStillView } from './still-view.js';

/** Lily green over what moves, of 255; stronger where the pointer is. */
const TINT = [31, 138, 112] as const;
const TINTED = 96;
const POINTED = 190;

/** Tints the parts that move in the span; a click makes a ripple of one. */
export function PickGround({ way }: { way: DrawWay }) {
  const workspace = useWorkspace();
  const take = useTake();
  const span = useStore(workspace.store, (state) => shownRecipe(state).span);
  const motion = useMotion(take.footage?.id ?? null, span);
  const [pointed, setPointed] = useState(0);
  const canvas = useRef<HTMLCanvasElement>(null);
  const map = motion.data;
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !map) return;
    const clear = { ...way, matte: 'transparent' as const };
    drawFrame(context, tintOf(map, pointed), { placement: { x: 0, y: 0, ...way.takeSize } }, clear);
  }, [map, pointed, way]);
  if (!take.footage) return <p className={stage.problem}>Pictures have no movement to pick from.</p>;
  const partUnder = (event: PointerEvent<HTMLCanvasElement>) => {
    if (!map) return 0;
    const box = event.currentTarget.getBoundingClientRect();
    const { x, y } = placeOnTake(
      way,
      (event.clientX - box.left) / box.width,
      (event.clientY - box.top) / box.height,
    );
    return partAt(map, (x / take.size.width) * map.width, (y / take.size.height) * map.height);
  };
  const pick = async (part: number) => {
    if (!map || part === 0) return;
    const hash = await keepMask(partMask(map, part, sizeOfMasks(take.size)), 'The part');
    const { place } = workspace.session.getState();
    const loop = loopNow(workspace);
    const frame = loop?.reel[Math.min(place, loop.round - 1)].source ?? 0;
    const { still } = workspace.store.getState().recipe;
    const next = withRipple(still, { name: rippleName(still), mask: hash, ...PROPOSED_EDGE }, frame);
    workspace.store.getState().change((recipe) => ({ ...recipe, still: next.still }));
    setStillView({ active: next.id });
  };
  return (
    <>
      <canvas
        ref={canvas}
        className={classes.parts}
        data-testid="parts"
        data-pointed={pointed || undefined}
        aria-label="The parts that move"
        onPointerMove={(event) => setPointed(partUnder(event))}
        onPointerLeave={() => setPointed(0)}
        onPointerDown={(event) => event.button === 0 && void pick(partUnder(event)).catch(tellProblem)}
      />
      {motion.isPending && <p className={stage.problem}>Looking for what moves…</p>}
      {motion.error && <p className={stage.problem}>{sentenceOf(motion.error)}</p>}
      {map?.parts.length === 0 && (
        <p className={stage.problem}>Nothing in this span moves enough to be told apart. Paint it.</p>
      )}
    </>
  );
}

function tintOf({ width, height, labels }: MovingParts, pointed: number): OffscreenCanvas {
  const tint = new OffscreenCanvas(width, height);
  const image = new ImageData(width, height);
  for (let p = 0, i = 0; p < labels.length; p++, i += 4) {
    if (labels[p] === 0) continue;
    image.data.set(TINT, i);
    image.data[i + 3] = labels[p] === pointed ? POINTED : TINTED;
  }
  tint.getContext('2d')?.putImageData(image, 0, 0);
  return tint;
}

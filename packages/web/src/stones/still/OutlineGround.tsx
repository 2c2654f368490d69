import { useHotkeys } from '@mantine/hooks';
import { flattenOutline, type Outline, type OutlinePoint } from '@muted-pond/core/still';
import type Konva from 'konva';
import { useState } from 'react';
import { Circle, Layer, Line, Stage } from 'react-konva';
import { useStore } from 'zustand';
import { placeOnShown, placeOnTake } from '../../paint/pointer-place.js';
import { loopNow } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { StageGround } from '../../stage/StageRoom.js';
import { shownRecipe } from '../../store/piece-store.js';
import classes from './still.module.css';
import { changePoint, changeRipple, LEAST_POINTS, withOutline } from './still-edits.js';
import { setStillView, useStillView } from './still-view.js';

/** Radius of a point on the screen, px; within twice of it the first point closes the line. */
const POINT = 6;
const LINE = '#ffffff';
const TAKES_AWAY = '#e0662f';

interface OutlineGroundProps {
  readonly shown: StageGround['shown'];
  readonly way: StageGround['way'];
  readonly zoom: number;
}

/**
 * Outlines as points and bends: clicks set points, the first one or Enter closes; points are dragged, a
 * double click makes a corner of a bend, Delete takes the chosen one out. Escape lets an open line go.
 */
export function OutlineGround({ shown, way, zoom }: OutlineGroundProps) {
  const workspace = useWorkspace();
  const { store, session } = workspace;
  const { active, way: paints } = useStillView();
  const still = useStore(store, (state) => shownRecipe(state).still);
  const ripple = still.ripples.find((one) => one.id === active);
  const outlines = ripple?.outlines ?? [];
  const [open, setOpen] = useState<readonly OutlinePoint[]>([]);
  const [chosen, setChosen] = useState<{ outline: number; point: number } | null>(null);
  const { takeSize } = way;

  const toShown = ({ x, y }: { x: number; y: number }) => {
    const at = placeOnShown(way, x * takeSize.width, y * takeSize.height);
    return { x: at.x * shown.width, y: at.y * shown.height };
  };
  const toPoint = (x: number, y: number) => {
    const at = placeOnTake(way, x / shown.width, y / shown.height);
    return { x: at.x / takeSize.width, y: at.y / takeSize.height };
  };
  const lineOf = (outline: Outline) =>
    flattenOutline(outline, 1, 1).flatMap(([x, y]) => {
      const at = toShown({ x, y });
      return [at.x, at.y];
    });
  const setOutlines = (next: readonly Outline[], how: 'preview' | 'change') => {
    if (!ripple) return;
    const edit = (recipe: ReturnType<typeof shownRecipe>) => ({
      ...recipe,
      still: changeRipple(recipe.still, ripple.id, { outlines: next }),
    });
    store.getState()[how](edit);
  };
  const close = () => {
    if (open.length < LEAST_POINTS) return;
    const loop = loopNow(workspace);
    const { place } = session.getState();
    const frame = loop?.reel[Math.min(place, loop.round - 1)].source ?? 0;
    const next = withOutline(still, active, { points: open, adds: paints === 'stir' }, frame);
    store.getState().change((recipe) => ({ ...recipe, still: next.still }));
    setStillView({ active: next.id });
    setOpen([]);
  };
  useHotkeys([
    ['Enter', close],
    ['Escape', () => setOpen([])],
    [
      'Delete',
      () => {
        if (!chosen) return;
        setOutlines(changePoint(outlines, chosen.outline, chosen.point, null), 'change');
        setChosen(null);
      },
    ],
  ]);

  const setPoint = (event: Konva.KonvaEventObject<PointerEvent>) => {
    if (event.evt.button !== 0 || event.target.getClassName() === 'Circle') return;
    const at = event.target.getStage()?.getRelativePointerPosition();
    if (!at) return;
    setChosen(null);
    setOpen([...open, { ...toPoint(at.x, at.y), smooth: true }]);
  };
  const radius = POINT / zoom;
  return (
    <div className={classes.outlines} data-testid="outline" data-open={open.length}>
      <Stage width={shown.width} height={shown.height} onPointerDown={setPoint}>
        <Layer>
          {outlines.map((outline, i) => (
            <Line
              // biome-ignore lint/suspicious/noArrayIndexKey: outlines have no names of their own
              key={i}
              points={lineOf(outline)}
              closed
              stroke={outline.adds ? LINE : TAKES_AWAY}
              strokeWidth={1.6 / zoom}
            />
          ))}
          {open.length > 0 && (
            <Line
              points={open.flatMap((point) => Object.values(toShown(point)))}
              stroke={paints === 'stir' ? LINE : TAKES_AWAY}
              strokeWidth={1.6 / zoom}
              dash={[6 / zoom, 4 / zoom]}
            />
          )}
          {outlines.flatMap((outline, i) =>
            outline.points.map((point, k) => {
              const isChosen = chosen?.outline === i && chosen.point === k;
              return (
                <Circle
                  // biome-ignore lint/suspicious/noArrayIndexKey: points have no names of their own
                  key={`${i}.${k}`}
                  {...toShown(point)}
                  radius={isChosen ? radius * 1.35 : radius}
                  fill={point.smooth ? '#1f8a70' : '#16302e'}
                  stroke={LINE}
                  strokeWidth={1.6 / zoom}
                  draggable
                  onPointerDown={() => setChosen({ outline: i, point: k })}
                  onDragMove={(event) =>
                    setOutlines(
                      changePoint(outlines, i, k, toPoint(event.target.x(), event.target.y())),
                      'preview',
                    )
                  }
                  onDragEnd={() => store.getState().keepDraft()}
                  onDblClick={() =>
                    setOutlines(changePoint(outlines, i, k, { smooth: !point.smooth }), 'change')
                  }
                />
              );
            }),
          )}
          {open.map((point, k) => (
            <Circle
              // biome-ignore lint/suspicious/noArrayIndexKey: points have no names of their own
              key={k}
              {...toShown(point)}
              radius={k === 0 ? radius * 1.5 : radius}
              fill={LINE}
              onPointerDown={() => k === 0 && close()}
            />
          ))}
        </Layer>
      </Stage>
    </div>
  );
}

import { useElementSize } from '@mantine/hooks';
import type { Veil } from '@muted-pond/core/dress';
import { boundaryTime, nearestBoundary } from '@muted-pond/core/timing';
import { type PointerEvent as ReactPointerEvent, useRef } from 'react';
import { useTake } from '../../../piece/piece-take.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { Strip } from '../../../strip/Strip.js';
import { useStripView } from '../../../strip/use-strip-view.js';
import { changeEntry } from '../dress-edits.js';
import { setDressView, useDressView } from '../dress-view.js';
import classes from '../strip.module.css';
import { useDressPart } from '../use-dress.js';
import { useFollow } from './use-follow.js';

/** The footage, and beneath it each veil: on which frames it lies, where it was set, and how sure it followed. */
export function VeilStrip() {
  const veils = useDressPart('veils');
  return (
    <Strip>
      {veils.length > 0 && (
        <div className={classes.veils}>
          {veils.map((veil) => (
            <VeilBar key={veil.id} veil={veil} />
          ))}
        </div>
      )}
    </Strip>
  );
}

function VeilBar({ veil }: { veil: Veil }) {
  const { session, store } = useWorkspace();
  const take = useTake();
  const view = useStripView();
  const { ref, width } = useElementSize<HTMLDivElement>();
  const isChosen = useDressView((state) => state.chosen === veil.id);
  const grip = useRef<'start' | 'end' | number | null>(null);
  const lane = useRef<HTMLDivElement | null>(null);
  const { times, frameCount } = take;
  const length = view.to - view.from;
  const share = (boundary: number) => (boundaryTime(times, boundary) - view.from) / length;
  const percent = (value: number) => `${Math.max(0, Math.min(1, value)) * 100}%`;
  const boundaryAt = (clientX: number) => {
    const box = lane.current?.getBoundingClientRect();
    if (!box) return 0;
    return nearestBoundary(times, Math.max(0, view.from + ((clientX - box.left) / box.width) * length));
  };
  const span = veil.span ?? { start: 0, end: frameCount };
  const takeUp = (part: 'start' | 'end' | number) => (event: ReactPointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setDressView({ chosen: veil.id, paints: false });
    grip.current = part;
    if (typeof part === 'number') {
      session.getState().setPlaying(false);
      session.getState().seek(part);
    }
  };
  const move = (event: ReactPointerEvent<HTMLElement>) => {
    const part = grip.current;
    if (part === null) return;
    event.stopPropagation();
    const at = Math.max(0, Math.min(frameCount, boundaryAt(event.clientX)));
    if (typeof part === 'number') {
      const to = Math.min(frameCount - 1, at);
      if (veil.keys.some(({ frame }) => frame === to)) return;
      const keys = veil.keys
        .map((key) => (key.frame === part ? { ...key, frame: to, by: 'hand' as const } : key))
        .sort((one, other) => one.frame - other.frame);
      grip.current = to;
      store.getState().preview((recipe) => changeEntry(recipe, 'veils', veil.id, { keys }));
      return;
    }
    const next =
      part === 'start'
        ? { start: Math.min(at, span.end - 1), end: span.end }
        : { start: span.start, end: Math.max(at, span.start + 1) };
    const isAll = next.start === 0 && next.end === frameCount;
    store
      .getState()
      .preview((recipe) => changeEntry(recipe, 'veils', veil.id, { span: isAll ? null : next }));
  };
  const letGo = () => {
    if (grip.current === null) return;
    grip.current = null;
    store.getState().keepDraft();
  };
  const hands = { onPointerMove: move, onPointerUp: letGo, onPointerCancel: letGo };
  const seen = veil.keys.filter(({ frame }) => share(frame) >= 0 && share(frame) <= 1);
  // Where they lie closer than can be taken hold of, only hand-set ones are shown.
  const isDense = width > 0 && seen.length > width / 12;
  return (
    <div ref={lane} className={classes.veilLane}>
      <div ref={ref} className={classes.fill} />
      <Sureness veil={veil} share={share} />
      <button
        type="button"
        className={classes.veilBar}
        data-chosen={isChosen || undefined}
        data-hidden={!veil.shown || undefined}
        style={{ left: percent(share(span.start)), right: `calc(100% - ${percent(share(span.end))})` }}
        onClick={() => setDressView({ chosen: veil.id })}
      >
        {veil.name}
      </button>
      {(['start', 'end'] as const).map((part) => (
        <span
          key={part}
          className={classes.veilGrip}
          title={part === 'start' ? 'The first frame it lies on' : 'The last frame it lies on'}
          style={{ left: `calc(${percent(share(span[part]))} - ${part === 'start' ? 0 : 8}px)` }}
          onPointerDown={takeUp(part)}
          {...hands}
        />
      ))}
      {seen
        .filter(({ by }) => !isDense || by === 'hand')
        .map(({ frame, by }) => (
          <span
            key={frame}
            className={classes.key}
            data-by={by}
            title={`Frame ${frame}: ${by === 'hand' ? 'set by hand' : 'followed'}`}
            style={{ left: percent((share(frame) + share(frame + 1)) / 2) }}
            onPointerDown={takeUp(frame)}
            {...hands}
          />
        ))}
    </div>
  );
}

/** How sure the last following was, frame by frame: the fuller, the surer. */
function Sureness({ veil, share }: { veil: Veil; share: (boundary: number) => number }) {
  const { view } = useFollow();
  if (view?.veil !== veil.id || view.state !== 'done') return null;
  const step = view.way === 'forwards' ? 1 : -1;
  const points = view.confidence.map((sure, i) => {
    const frame = view.frame + i * step;
    return `${((share(frame) + share(frame + 1)) / 2) * 1000},${10 - sure * 10}`;
  });
  return (
    <svg className={classes.sure} viewBox="0 0 1000 10" preserveAspectRatio="none" aria-hidden="true">
      <polyline points={points.join(' ')} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}

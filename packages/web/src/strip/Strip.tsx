import { useElementSize, useMergedRef } from '@mantine/hooks';
import type { FootageView } from '@muted-pond/core/api';
import {
  boundaryTime,
  type FrameTimes,
  fitSpan,
  frameAt,
  nearestBoundary,
  type Span,
} from '@muted-pond/core/timing';
import { type PointerEvent as ReactPointerEvent, useRef } from 'react';
import { useStore } from 'zustand';
import { stripUrl } from '../api/queries.js';
import { shownRecipe } from '../store/piece-store.js';
import { formatClock, formatRate, formatSeconds } from '../ui/format.js';
import { useWorkspace } from '../workspace/workspace-context.js';
import { SpanHandle } from './SpanHandle.js';
import classes from './strip.module.css';

interface StripProps {
  readonly footage: FootageView;
  readonly times: FrameTimes;
}

/** The whole take as pictures: scrub by dragging; the two stones beneath are the span's start and end. */
export function Strip({ footage, times }: StripProps) {
  const { store, session } = useWorkspace();
  const band = useRef<HTMLDivElement>(null);
  const { ref: measure, width, height } = useElementSize<HTMLDivElement>();
  const setBand = useMergedRef(band, measure);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const playhead = useStore(session, (state) => state.playhead);
  const { strip } = footage;

  const share = (boundary: number) => boundaryTime(times, boundary) / times.duration;
  const secondsAt = (clientX: number): number => {
    const box = band.current?.getBoundingClientRect();
    return box ? Math.max(0, ((clientX - box.left) / box.width) * times.duration) : 0;
  };

  function scrub(event: ReactPointerEvent<HTMLDivElement>): void {
    if (event.buttons !== 1) return;
    const { seek, setPlaying } = session.getState();
    setPlaying(false);
    seek(frameAt(times, secondsAt(event.clientX)));
  }

  const dragTo = (which: 'start' | 'end', boundary: number) =>
    store
      .getState()
      .preview((recipe) => ({ ...recipe, span: moveSpan(recipe.span, which, boundary, footage.frameCount) }));

  return (
    <section className={classes.strip} aria-label="Footage strip">
      <div className={classes.head}>
        <strong>{footage.name}</strong>
        <span>
          {footage.frameCount} frames · {formatSeconds(footage.seconds)} · {formatRate(footage.frameRate)} fps
          {footage.variableRate ? ' on average, varying' : ''}
        </span>
        <span className={classes.headRight}>
          {strip.exact < strip.count
            ? `reading the footage: ${Math.max(strip.coarse, strip.exact)} of ${strip.count} pictures`
            : `1 s = ${Math.round(width / times.duration)} px`}
        </span>
      </div>
      <div
        ref={setBand}
        className={classes.band}
        data-testid="strip-band"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub(event);
        }}
        onPointerMove={scrub}
      >
        <div className={classes.pictures} aria-hidden="true">
          {shownPlaces(strip.count, width / (height * (footage.width / footage.height))).map((place) => (
            <div key={place} className={classes.place}>
              {place < Math.max(strip.coarse, strip.exact) && (
                <img
                  src={stripUrl(footage.id, place, place < strip.exact ? 'exact' : 'rough')}
                  alt=""
                  draggable={false}
                />
              )}
            </div>
          ))}
        </div>
        <div className={classes.outside} style={{ left: 0, width: `${share(span.start) * 100}%` }} />
        <div className={classes.outside} style={{ left: `${share(span.end) * 100}%`, right: 0 }} />
        <div
          className={classes.playhead}
          style={{ left: `${(share(playhead) + share(playhead + 1)) * 50}%` }}
        />
      </div>
      <div className={classes.stones}>
        <div
          className={classes.path}
          style={{
            left: `${share(span.start) * 100}%`,
            width: `${(share(span.end) - share(span.start)) * 100}%`,
          }}
        />
        {(['start', 'end'] as const).map((which) => (
          <SpanHandle
            key={which}
            which={which}
            share={share(span[which])}
            boundary={span[which]}
            frame={which === 'start' ? span.start : span.end - 1}
            limits={which === 'start' ? [0, span.end - 1] : [span.start + 1, footage.frameCount]}
            footage={footage.id}
            clock={formatClock(boundaryTime(times, span[which]))}
            boundaryAt={(clientX) => nearestBoundary(times, secondsAt(clientX))}
            onHold={(held) => session.getState().hold(held ? which : null)}
            onDrag={(boundary) => dragTo(which, boundary)}
            onKeep={() => store.getState().keepDraft()}
            onCancel={() => store.getState().dropDraft()}
          />
        ))}
      </div>
    </section>
  );
}

/** Which of the strip's pictures fit side by side in their own shape, equally spaced. */
function shownPlaces(count: number, room: number): number[] {
  const shown = Math.max(1, Math.min(count, Math.round(room) || 1));
  return Array.from({ length: shown }, (_, i) => Math.floor(((i + 0.5) * count) / shown));
}

function moveSpan(span: Span, which: 'start' | 'end', boundary: number, frameCount: number): Span {
  return fitSpan(
    which === 'start'
      ? { start: Math.min(boundary, span.end - 1), end: span.end }
      : { start: span.start, end: Math.max(boundary, span.start + 1) },
    frameCount,
    which,
  );
}

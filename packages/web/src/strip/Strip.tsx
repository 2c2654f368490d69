import { useElementSize, useMergedRef } from '@mantine/hooks';
import { boundaryTime, fitSpan, frameAt, nearestBoundary, type Span } from '@muted-pond/core/timing';
import { type ReactNode, type PointerEvent as ReactPointerEvent, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { useFootage } from '../api/queries.js';
import { type PieceTake, useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import { formatClock, formatRate, formatSeconds } from '../ui/format.js';
import { SpanHandle } from './SpanHandle.js';
import { StripMap } from './StripMap.js';
import { StripPictures } from './StripPictures.js';
import { type Mark, markNear } from './snap.js';
import classes from './strip.module.css';
import { useStripControls, useStripView } from './use-strip-view.js';

const NO_CUTS: readonly number[] = [];

interface StripProps {
  /** Beneath the span's stones. */
  readonly children?: ReactNode;
  /** Between the head and the pictures. */
  readonly above?: ReactNode;
  /** At the right of the head, instead of how close the strip is. */
  readonly tools?: ReactNode;
}

/**
 * The take as pictures: scrub by dragging, closer and wider by the wheel; the two stones beneath are the
 * span's ends.
 */
export function Strip({ children, above, tools }: StripProps) {
  const { store, session, seams } = useWorkspace();
  const take = useTake();
  const cuts = useStore(seams, (state) => state.found?.cuts) ?? NO_CUTS;
  const { times, frameCount } = take;
  const band = useRef<HTMLDivElement>(null);
  const { ref: measure, width, height } = useElementSize<HTMLDivElement>();
  const setBand = useMergedRef(band, measure);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const playhead = useStore(session, (state) => state.playhead);
  const view = useStripView();
  const [caughtBy, setCaughtBy] = useState<string | null>(null);
  useStripControls(band);

  const length = view.to - view.from;
  const share = (boundary: number) => (boundaryTime(times, boundary) - view.from) / length;
  const secondsAt = (clientX: number): number => {
    const box = band.current?.getBoundingClientRect();
    return box ? Math.max(0, view.from + ((clientX - box.left) / box.width) * length) : 0;
  };

  function scrub(event: ReactPointerEvent<HTMLDivElement>): void {
    if (event.buttons !== 1) return;
    const { seek, setPlaying } = session.getState();
    setPlaying(false);
    seek(frameAt(times, secondsAt(event.clientX)));
  }

  function dragTo(which: 'start' | 'end', clientX: number, free: boolean): void {
    const wanted = nearestBoundary(times, secondsAt(clientX));
    const marks = free ? [] : marksFor(which, span, playhead, take, cuts);
    const caught = markNear(marks, wanted, (a, b) => (share(a) - share(b)) * width);
    setCaughtBy(caught?.name ?? null);
    previewEnd(which, caught?.boundary ?? wanted);
  }

  const previewEnd = (which: 'start' | 'end', boundary: number) =>
    store
      .getState()
      .preview((recipe) => ({ ...recipe, span: moveSpan(recipe.span, which, boundary, frameCount) }));

  const percent = (value: number) => `${Math.max(0, Math.min(1, value)) * 100}%`;
  const room = height > 0 ? width / (height * (take.size.width / take.size.height)) : 1;
  return (
    <section className={classes.strip} aria-label="Footage strip">
      <div className={classes.head}>
        <strong>{take.name}</strong>
        <TakeFigures take={take} scenes={cuts.length + 1} />
        <span className={classes.headRight}>
          {tools ?? <StripState take={take} pxPerSecond={width / length} />}
        </span>
      </div>
      {above}
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
        <StripPictures take={take} view={view} room={room} />
        <div className={classes.outside} style={{ left: 0, width: percent(share(span.start)) }} />
        <div className={classes.outside} style={{ left: percent(share(span.end)), right: 0 }} />
        {cuts.map((cut) => (
          <div
            key={cut}
            className={classes.cut}
            data-testid="cut"
            hidden={share(cut) <= 0 || share(cut) >= 1}
            style={{ left: percent(share(cut)) }}
            title={`Another scene begins here, at ${formatClock(boundaryTime(times, cut))}`}
          />
        ))}
        <div
          className={classes.playhead}
          hidden={share(playhead + 1) <= 0 || share(playhead) >= 1}
          style={{ left: percent((share(playhead) + share(playhead + 1)) / 2) }}
        />
      </div>
      <div className={classes.stones}>
        <div
          className={classes.path}
          style={{
            left: percent(share(span.start)),
            right: `calc(100% - ${percent(share(span.end))})`,
          }}
        />
        {(['start', 'end'] as const).map((which) => (
          <SpanHandle
            key={which}
            which={which}
            share={share(span[which])}
            boundary={span[which]}
            frame={which === 'start' ? span.start : span.end - 1}
            limits={which === 'start' ? [0, span.end - 1] : [span.start + 1, frameCount]}
            clock={formatClock(boundaryTime(times, span[which]))}
            caughtBy={caughtBy}
            onHold={(held) => {
              setCaughtBy(null);
              session.getState().grab(held ? which : null);
            }}
            onDrag={(clientX, free) => dragTo(which, clientX, free)}
            onStep={(boundary) => {
              previewEnd(which, boundary);
              store.getState().keepDraft();
            }}
            onKeep={() => store.getState().keepDraft()}
            onCancel={() => store.getState().dropDraft()}
          />
        ))}
      </div>
      {children}
      <StripMap />
    </section>
  );
}

function TakeFigures({ take, scenes }: { take: PieceTake; scenes: number }) {
  const { frameCount, times, frameRate, footage } = take;
  return (
    <span>
      {frameCount} {frameCount === 1 ? 'frame' : 'frames'} · {formatSeconds(times.duration)} ·{' '}
      {formatRate(frameRate)} fps{footage?.variableRate ? ' on average, varying' : ''}
      {scenes > 1 ? ` · ${scenes} scenes` : ''}
    </span>
  );
}

/** How far the footage is read; then how close the strip is. */
function StripState({ take, pxPerSecond }: { take: PieceTake; pxPerSecond: number }) {
  return take.footage ? (
    <FootageState id={take.footage.id} pxPerSecond={pxPerSecond} />
  ) : (
    <Closeness px={pxPerSecond} />
  );
}

function FootageState({ id, pxPerSecond }: { id: string; pxPerSecond: number }) {
  const strip = useFootage(id).data?.strip;
  if (!strip || strip.made >= strip.count) return <Closeness px={pxPerSecond} />;
  return `reading the footage: ${strip.made} of ${strip.count} pictures`;
}

function Closeness({ px }: { px: number }) {
  return `1 s = ${px >= 10 ? Math.round(px) : px.toFixed(1)} px`;
}

/** What a handle stops at: the frame on the stage, cuts, and lengths of whole and half seconds. */
function marksFor(
  which: 'start' | 'end',
  span: Span,
  playhead: number,
  take: PieceTake,
  cuts: readonly number[],
): Mark[] {
  const { times, frameCount } = take;
  const marks: Mark[] = [
    { boundary: which === 'start' ? playhead : playhead + 1, name: 'the frame on the stage' },
    { boundary: which === 'start' ? 0 : frameCount, name: which === 'start' ? 'the beginning' : 'the end' },
    ...cuts.map((boundary) => ({ boundary, name: 'a cut' })),
  ];
  const fixed = boundaryTime(times, which === 'start' ? span.end : span.start);
  const direction = which === 'start' ? -1 : 1;
  for (let seconds = 0.5; seconds <= Math.min(20, times.duration); seconds += 0.5) {
    const at = fixed + direction * seconds;
    if (at >= 0 && at <= times.duration) {
      marks.push({ boundary: nearestBoundary(times, at), name: `${seconds} s long` });
    }
  }
  return marks;
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

import { useElementSize, useMergedRef } from '@mantine/hooks';
import type { ShownTime } from '@muted-pond/core/dress';
import type { LoopReel } from '@muted-pond/core/loop';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { type PointerEvent as ReactPointerEvent, useRef } from 'react';
import { useStore } from 'zustand';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { FramePicture } from '../../strip/StripPictures.js';
import strip from '../../strip/strip.module.css';
import { formatSeconds } from '../../ui/format.js';
import { changeTime } from './dress-edits.js';
import { setDressView, useDressView } from './dress-view.js';
import { lanesOf } from './lanes.js';
import { momentOf, nearestCs, placeAt } from './reel-time.js';
import classes from './strip.module.css';
import { useDressPart } from './use-dress.js';

/** The reel along its seconds; beneath, a bar for all that has a time on it. */
export function DressStrip() {
  const { loop, problem } = usePieceLoop();
  return (
    <section className={`${strip.strip} ${classes.strip}`} aria-label="Reel in seconds">
      <div className={strip.head}>
        <strong>Reel</strong>
        {loop && <span>{formatSeconds(reelCentiseconds(loop.reel) / 100)}</span>}
      </div>
      {loop ? <Band loop={loop} /> : <p>{problem}</p>}
    </section>
  );
}

function Band({ loop }: { loop: LoopReel }) {
  const { session } = useWorkspace();
  const take = useTake();
  const band = useRef<HTMLDivElement>(null);
  const { ref: measure, width, height } = useElementSize<HTMLDivElement>();
  const setBand = useMergedRef(band, measure);
  const totalCs = reelCentiseconds(loop.reel);
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { beginsCs, endsCs } = momentOf(loop.reel, place);
  const room =
    height > 0 ? Math.max(1, Math.round(width / (height * (take.size.width / take.size.height)))) : 1;
  const csAt = (clientX: number) => {
    const box = band.current?.getBoundingClientRect();
    return box ? Math.max(0, Math.min(1, (clientX - box.left) / box.width)) * totalCs : 0;
  };
  const scrub = (event: ReactPointerEvent<HTMLElement>) => {
    if (event.buttons !== 1) return;
    const at = placeAt(loop.reel, csAt(event.clientX)) % loop.round;
    session.getState().setPlaying(false);
    session.getState().seekReel(at, loop.reel[at].source);
  };
  return (
    <>
      <div
        ref={setBand}
        className={strip.band}
        data-testid="dress-band"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub(event);
        }}
        onPointerMove={scrub}
      >
        <div className={strip.pictures} aria-hidden="true">
          {Array.from({ length: room }, (_, i) => {
            const at = placeAt(loop.reel, ((i + 0.5) / room) * totalCs);
            return (
              <div
                // biome-ignore lint/suspicious/noArrayIndexKey: places of the band
                key={i}
                className={strip.place}
                style={{ left: `${(i / room) * 100}%`, width: `${100 / room}%` }}
              >
                <FramePicture take={take} frame={loop.reel[at].source} />
              </div>
            );
          })}
        </div>
        <div className={strip.playhead} style={{ left: `${((beginsCs + endsCs) / 2 / totalCs) * 100}%` }} />
      </div>
      <Bars loop={loop} totalCs={totalCs} csAt={csAt} />
    </>
  );
}

interface BarsProps {
  readonly loop: LoopReel;
  readonly totalCs: number;
  readonly csAt: (clientX: number) => number;
}

function Bars({ loop, totalCs, csAt }: BarsProps) {
  const captions = useDressPart('captions');
  const emblems = useDressPart('emblems');
  const timed = [
    ...captions.map(({ id, text, time, shown }) => ({
      id,
      list: 'captions' as const,
      name: text || 'No words yet',
      time,
      shown,
    })),
    ...emblems.map(({ id, name, time, shown }) => ({
      id,
      list: 'emblems' as const,
      name,
      time,
      shown,
    })),
  ];
  if (timed.length === 0) {
    return <p className={classes.hint}>Captions and emblems show their time here.</p>;
  }
  const whole: ShownTime = { fromCs: 0, toCs: totalCs };
  const { lanes, count } = lanesOf(timed.map(({ time }) => time ?? whole));
  return (
    <div className={classes.bars}>
      <div className={classes.lanes} style={{ height: count * 22 }}>
        {timed.map((one, i) => (
          <Bar key={one.id} {...one} top={lanes[i] * 22} loop={loop} totalCs={totalCs} csAt={csAt} />
        ))}
      </div>
    </div>
  );
}

interface BarProps extends BarsProps {
  readonly id: string;
  readonly list: 'captions' | 'emblems';
  readonly name: string;
  readonly time: ShownTime | null;
  readonly shown: boolean;
  readonly top: number;
}

function Bar({ id, list, name, time, shown, top, loop, totalCs, csAt }: BarProps) {
  const { store } = useWorkspace();
  const isChosen = useDressView((view) => view.chosen === id);
  const grip = useRef<{ part: 'from' | 'to' | 'all'; atCs: number; time: ShownTime } | null>(null);
  const now = time ?? { fromCs: 0, toCs: totalCs };
  const share = (cs: number) => `${(Math.min(cs, totalCs) / totalCs) * 100}%`;
  const setTime = (next: ShownTime) =>
    store.getState().preview((recipe) => {
      const isWhole = next.fromCs <= 0 && next.toCs >= totalCs;
      return changeTime(recipe, list, id, isWhole ? null : next);
    });
  const takeUp = (part: 'from' | 'to' | 'all') => (event: ReactPointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setDressView({ chosen: id, tab: list === 'captions' ? 'captions' : 'edge' });
    grip.current = { part, atCs: csAt(event.clientX), time: now };
  };
  const move = (event: ReactPointerEvent<HTMLElement>) => {
    const held = grip.current;
    if (!held) return;
    event.stopPropagation();
    const by = csAt(event.clientX) - held.atCs;
    const { fromCs, toCs } = held.time;
    if (held.part === 'from')
      setTime({ fromCs: Math.min(toCs - 1, nearestCs(loop.reel, fromCs + by)), toCs });
    else if (held.part === 'to')
      setTime({ fromCs, toCs: Math.max(fromCs + 1, nearestCs(loop.reel, toCs + by)) });
    else if (time) {
      const length = toCs - fromCs;
      const from = Math.max(0, Math.min(totalCs - length, nearestCs(loop.reel, fromCs + by)));
      setTime({ fromCs: from, toCs: from + length });
    }
  };
  const letGo = () => {
    grip.current = null;
    store.getState().keepDraft();
  };
  const step = (part: 'from' | 'to', by: number) => {
    const next =
      part === 'from'
        ? { fromCs: Math.max(0, Math.min(now.toCs - 1, now.fromCs + by)), toCs: now.toCs }
        : { fromCs: now.fromCs, toCs: Math.max(now.fromCs + 1, Math.min(totalCs, now.toCs + by)) };
    setTime(next);
    store.getState().keepDraft();
  };
  const hands = { onPointerMove: move, onPointerUp: letGo, onPointerCancel: letGo };
  return (
    <div
      className={classes.bar}
      data-chosen={isChosen || undefined}
      data-hidden={!shown || undefined}
      style={{ top, left: share(now.fromCs), right: `calc(100% - ${share(now.toCs)})` }}
      onPointerDown={takeUp('all')}
      {...hands}
    >
      <span className={classes.barName}>{name}</span>
      {(['from', 'to'] as const).map((part) => (
        <span
          key={part}
          role="slider"
          tabIndex={0}
          className={classes.grip}
          data-part={part}
          aria-label={part === 'from' ? `“${name}” is seen from` : `“${name}” is seen until`}
          aria-valuemin={0}
          aria-valuemax={totalCs / 100}
          aria-valuenow={now[part === 'from' ? 'fromCs' : 'toCs'] / 100}
          aria-valuetext={`${(now[part === 'from' ? 'fromCs' : 'toCs'] / 100).toFixed(2)} s`}
          onPointerDown={takeUp(part)}
          {...hands}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
            if (!by) return;
            event.preventDefault();
            event.nativeEvent.stopPropagation();
            step(part, by * (event.shiftKey ? 100 : 10));
          }}
        />
      ))}
    </div>
  );
}

import type { Size } from '@muted-pond/core/pixels';
import { boundaryTime } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import type { PieceTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import { formatClock } from '../ui/format.js';
import type { DrawWay } from './draw.js';
import { SideBySide } from './SideBySide.js';

interface EndsOfSpanProps {
  readonly take: PieceTake;
  readonly way: DrawWay;
  /** The end that is being moved. */
  readonly held: 'start' | 'end';
  readonly room: Size;
}

/** First and last frame of the span side by side, while one of them is moved. */
export function EndsOfSpan({ take, way, held, room }: EndsOfSpanProps) {
  const { store } = useWorkspace();
  const span = useStore(store, (state) => shownRecipe(state).span);
  const end = (which: 'start' | 'end', title: string, frame: number) => ({
    title,
    layers: [{ frame }],
    words: `frame ${frame} · ${formatClock(boundaryTime(take.times, frame))}`,
    held: which === held,
  });
  return (
    <SideBySide
      take={take}
      way={way}
      room={room}
      ends={[end('start', 'first', span.start), end('end', 'last', span.end - 1)]}
    />
  );
}

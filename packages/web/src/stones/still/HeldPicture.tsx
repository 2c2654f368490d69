import type { LoopReel } from '@muted-pond/core/loop';
import { useStore } from 'zustand';
import type { DrawWay } from '../../stage/draw.js';
import { shownRecipe } from '../../store/piece-store.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { StillCanvas } from './StillCanvas.js';
import { useHolding } from './use-holding.js';
import { useStillPreview } from './use-preview.js';

interface HeldPictureProps {
  readonly way: DrawWay;
  readonly loop: LoopReel;
  readonly place: number;
  readonly onProblem: (sentence: string | null) => void;
}

/** What the file is made from, at a place of the reel: full colours, held where it is held. */
export function HeldPicture({ way, loop, place, onProblem }: HeldPictureProps) {
  const { store } = useWorkspace();
  const take = useTake();
  const plate = useStore(store, (state) => shownRecipe(state).still.plate);
  const preview = useStillPreview(null);
  const { lies } = useHolding();
  return (
    <StillCanvas
      take={take}
      way={way}
      pick={loop.reel[place]}
      place={place}
      plate={plate}
      preview={preview}
      wet={null}
      muted={false}
      splitAt={null}
      ghost={false}
      lies={lies}
      onProblem={onProblem}
    />
  );
}

import { spanSeconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { Ribbons } from '../../strip/Ribbons.js';
import { Strip } from '../../strip/Strip.js';
import { BankHead } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { PlayingStage } from '../shared.js';
import type { Stone } from '../stone.js';
import { CropOnPicture } from './CropOnPicture.js';
import { FrameSection } from './FrameSection.js';
import { SpanSection } from './SpanSection.js';

export const cutStone: Stone = {
  id: 'cut',
  name: 'Cut',
  built: true,
  Value: CutValue,
  Stage: CutStage,
  Bank: CutBank,
  Lower: CutStrip,
};

function CutValue() {
  const { store } = useWorkspace();
  const { times } = useTake();
  const span = useStore(store, (state) => shownRecipe(state).span);
  return formatSeconds(spanSeconds(times, span));
}

function CutStage() {
  const { store } = useWorkspace();
  const crop = useStore(store, (state) => shownRecipe(state).framing.crop);
  return (
    <PlayingStage
      view="whole"
      over={(picture, shown) => <CropOnPicture picture={picture} shown={shown} />}
      note={crop ? `crop ${crop.width} × ${crop.height}: drag it, or its corners and edges` : undefined}
    />
  );
}

function CutBank() {
  return (
    <>
      <BankHead title="Cut" about="What will loop, and how much of the picture." />
      <SpanSection />
      <FrameSection />
    </>
  );
}

function CutStrip() {
  return (
    <Strip>
      <Ribbons />
    </Strip>
  );
}

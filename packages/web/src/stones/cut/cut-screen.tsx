import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { PlayingStage } from '../../stone/footage-screen.js';
import type { StoneScreen } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';
import { Ribbons } from '../../strip/Ribbons.js';
import { Strip } from '../../strip/Strip.js';
import { BankHead } from '../../ui/Bank.js';
import { CropOnPicture } from './CropOnPicture.js';
import { FrameSection } from './FrameSection.js';
import { SpanSection } from './SpanSection.js';

export const screen: StoneScreen = { Stage: CutStage, Bank: CutBank, Lower: CutStrip };

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

import { useStore } from 'zustand';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { FootageStrip, PlayingStage } from '../../stone/footage-screen.js';
import type { StoneScreen } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';
import { FootageBank } from './FootageBank.js';
import { MovablePicture } from './MovablePicture.js';
import { StillsBank } from './StillsBank.js';

export const screen: StoneScreen = { Stage: GatherStage, Bank: GatherBank, Lower: FootageStrip };

function GatherStage() {
  const { kind } = useTake();
  if (kind !== 'stills') return <PlayingStage view="whole" />;
  return (
    <PlayingStage
      view="whole"
      over={(picture, shown) => <MovablePicture picture={picture} shown={shown} />}
      note="drag the picture to choose what stays in sight"
    />
  );
}

function GatherBank() {
  const { store } = useWorkspace();
  const source = useStore(store, (state) => shownRecipe(state).sources[0]);
  return source.kind === 'stills' ? <StillsBank source={source} /> : <FootageBank source={source} />;
}

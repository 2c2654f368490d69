import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { FootageStrip, PlayingStage } from '../shared.js';
import type { Stone } from '../stone.js';
import { FootageBank } from './FootageBank.js';
import { MovablePicture } from './MovablePicture.js';
import { StillsBank } from './StillsBank.js';

export const gatherStone: Stone = {
  id: 'gather',
  name: 'Gather',
  built: true,
  Value: GatherValue,
  Stage: GatherStage,
  Bank: GatherBank,
  Lower: FootageStrip,
};

function GatherValue() {
  const { kind, frameCount } = useTake();
  if (kind === 'stills') return frameCount === 1 ? '1 picture' : `${frameCount} pictures`;
  return kind === 'animation' ? '1 animation' : '1 clip';
}

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

import { Button, FileButton } from '@mantine/core';
import type { StillSettings } from '@muted-pond/core/still';
import { useStore } from 'zustand';
import { fullFrameUrl, layerUrl, putLayer } from '../../api/layers.js';
import { smallUrl } from '../../api/queries.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection, Card } from '../../ui/Bank.js';
import { tellProblem } from '../../ui/notify.js';
import { loopNow } from '../../workspace/piece-loop.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import classes from './still.module.css';

/** Shapes that differ by less than this are the same. */
const SAME_SHAPE = 0.01;

/** The picture that the frozen parts show. */
export function PlateSection() {
  const { store, session, files } = useWorkspace();
  const take = useTake();
  const { plate } = useStore(store, (state) => shownRecipe(state).still);
  const set = (part: Partial<StillSettings>) =>
    store.getState().change((recipe) => ({ ...recipe, still: { ...recipe.still, ...part } }));
  const hold = (frame: number) => set({ plate: { kind: 'frame', frame } });
  const holdShown = () => {
    const loop = loopNow({ store, files });
    if (!loop) return;
    const { place } = session.getState();
    hold(loop.reel[Math.min(place, loop.round - 1)].source);
  };

  const bringBack = async (file: File | null) => {
    if (!file || !plate) return;
    try {
      const { hash, width, height } = await putLayer(file, file.name);
      const { width: w, height: h } = take.size;
      if (Math.abs(width / height / (w / h) - 1) > SAME_SHAPE) {
        throw new Error(
          `“${file.name}” is ${width} × ${height} px, and the footage ${w} × ${h}. Bring it back in the footage’s shape: save the plate here, and keep its size.`,
        );
      }
      set({ plate: { kind: 'picture', frame: plate.frame, hash } });
    } catch (error) {
      tellProblem(error);
    }
  };

  if (!plate) {
    return (
      <BankSection title="Plate">
        <p className={classes.note}>
          Nothing is held: the whole picture moves. Paint on the picture where it may go on moving, or hold
          the frame on the stage.
        </p>
        <Button fullWidth variant="default" onClick={holdShown}>
          Hold this frame
        </Button>
      </BankSection>
    );
  }
  const { file, frame } = take.frame(plate.frame);
  return (
    <BankSection title="Plate">
      <Card>
        <div className={classes.plate}>
          <img src={plate.kind === 'picture' ? layerUrl(plate.hash) : smallUrl(file.hash, frame)} alt="" />
          <div>
            <strong>{plate.kind === 'picture' ? 'Retouched' : `Frame ${plate.frame}`}</strong>
            <br />
            {plate.kind === 'picture' ? `from frame ${plate.frame}` : <EdgeMismatch onBetter={hold} />}
            <br />
            <button type="button" onClick={holdShown}>
              Hold the shown one
            </button>
          </div>
        </div>
      </Card>
      <div className={classes.buttons}>
        <Button
          component="a"
          size="compact-sm"
          variant="default"
          href={
            plate.kind === 'picture'
              ? layerUrl(plate.hash)
              : fullFrameUrl(file.hash, frame, `plate ${plate.frame}.png`)
          }
          download={`plate ${plate.frame}.png`}
        >
          Save PNG
        </Button>
        <FileButton accept="image/png" onChange={(chosen) => void bringBack(chosen)}>
          {(props) => (
            <Button {...props} size="compact-sm" variant="default">
              Bring back
            </Button>
          )}
        </FileButton>
        {plate.kind === 'picture' ? (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => set({ plate: { kind: 'frame', frame: plate.frame } })}
          >
            Drop it
          </Button>
        ) : (
          <Button size="compact-sm" variant="default" onClick={() => set({ plate: null })}>
            Release
          </Button>
        )}
      </div>
    </BankSection>
  );
}

/** A frame that misses less than this much less is not worth a change, levels. */
const WORTH = 0.15;

/** How the held frame meets what moves along the edge, and a frame that meets it better. */
function EdgeMismatch({ onBetter }: { onBetter: (frame: number) => void }) {
  const { seams } = useWorkspace();
  const plate = useStore(seams, (state) => state.answer?.plate ?? null);
  if (!plate || Number.isNaN(plate.now.mismatch)) return 'what the held parts show';
  const { now, best } = plate;
  return (
    <>
      edge mismatch <span data-testid="mismatch">{now.mismatch.toFixed(1)}</span> of 255
      {best.mismatch < now.mismatch - WORTH && (
        <>
          <br />
          <button type="button" onClick={() => onBetter(best.frame)}>
            Take frame {best.frame}: {best.mismatch.toFixed(1)}
          </button>
        </>
      )}
    </>
  );
}

import { Button, FileButton } from '@mantine/core';
import { modals } from '@mantine/modals';
import type { Size } from '@muted-pond/core/pixels';
import type { StillSettings } from '@muted-pond/core/still';
import { useStore } from 'zustand';
import { layerUrl, smallUrl } from '../../api/frame-urls.js';
import { fullFrameUrl, putLayer } from '../../api/layers.js';
import { loopNow } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection, Card } from '../../ui/Bank.js';
import { formatClock } from '../../ui/format.js';
import { tellProblem } from '../../ui/notify.js';
import { fitPicture, isSameShape, sizeOfPicture } from './plate-pictures.js';
import classes from './still.module.css';
import { setStillView, useStillView } from './still-view.js';

/** The picture that the frozen parts show. */
export function PlateSection() {
  const { store, session, files } = useWorkspace();
  const take = useTake();
  const { asFilmed } = useStillView();
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

  const takeSize = take.size;
  const keep = async (picture: Blob, name: string) => {
    try {
      const { hash } = await putLayer(picture, name);
      if (plate) set({ plate: { kind: 'picture', frame: plate.frame, hash } });
    } catch (error) {
      tellProblem(error);
    }
  };
  const bringBack = async (file: File | null) => {
    if (!file || !plate) return;
    const size = await sizeOfPicture(file);
    // What cannot be read here is refused by the server, with its reason.
    if (!size || isSameShape(size, takeSize)) return keep(file, file.name);
    offerToFit(file.name, size, takeSize, async (how) =>
      keep(await fitPicture(file, takeSize, how), file.name),
    );
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
          <>
            <Button
              size="compact-sm"
              variant="default"
              aria-pressed={asFilmed}
              title="Shows the frame that was retouched in its place, on the stage only"
              onClick={() => setStillView({ asFilmed: !asFilmed })}
            >
              {asFilmed ? 'As retouched' : 'As filmed'}
            </Button>
            <Button
              size="compact-sm"
              variant="default"
              onClick={() => set({ plate: { kind: 'frame', frame: plate.frame } })}
            >
              Drop it
            </Button>
          </>
        ) : (
          <Button size="compact-sm" variant="default" onClick={() => set({ plate: null })}>
            Release
          </Button>
        )}
      </div>
      <CalmStretch />
    </BankSection>
  );
}

function offerToFit(
  name: string,
  size: Size,
  take: Size,
  onChoose: (how: 'cover' | 'stretch') => Promise<void>,
): void {
  const choose = (how: 'cover' | 'stretch') => {
    modals.closeAll();
    void onChoose(how);
  };
  modals.open({
    title: 'A picture of another shape',
    centered: true,
    children: (
      <>
        <p className={classes.note}>
          “{name}” is {size.width} × {size.height} px, and the footage {take.width} × {take.height}. It can be
          fitted; where it was only cut smaller, held and moving parts will not meet.
        </p>
        <div className={classes.buttons}>
          <Button color="deep" onClick={() => choose('cover')}>
            Fill, cut what is over
          </Button>
          <Button variant="default" onClick={() => choose('stretch')}>
            Stretch it
          </Button>
          <Button variant="subtle" color="deep" onClick={() => modals.closeAll()}>
            Leave the plate
          </Button>
        </div>
      </>
    ),
  });
}

/** A stretch that lies calmer than this many levels less is not worth a change. */
const WORTH_MOVING = 0.3;

/** The steadiest stretch as long as the span, and the plate in it. */
function CalmStretch() {
  const { store, seams } = useWorkspace();
  const { times } = useTake();
  const calm = useStore(seams, (state) => state.found?.calm ?? null);
  const now = useStore(seams, (state) => state.found?.plate?.now.mismatch ?? null);
  if (!calm || now === null || !(calm.mismatch < now - WORTH_MOVING)) return null;
  const { span } = calm;
  const take = () =>
    store.getState().change((recipe) => ({
      ...recipe,
      span,
      still: { ...recipe.still, plate: { kind: 'frame', frame: calm.plate } },
    }));
  return (
    <p className={classes.note} data-testid="calm-stretch">
      From {formatClock(times.starts[span.start])} on, plate and ripples meet to{' '}
      <strong>{calm.mismatch.toFixed(1)}</strong> of 255; here it is {now.toFixed(1)}.{' '}
      <button type="button" onClick={take}>
        Take the calm stretch
      </button>
    </p>
  );
}

/** A frame that misses less than this much less is not worth a change, levels. */
const WORTH = 0.15;

/** How the held frame meets what moves along the edge, and a frame that meets it better. */
function EdgeMismatch({ onBetter }: { onBetter: (frame: number) => void }) {
  const { seams } = useWorkspace();
  const plate = useStore(seams, (state) => state.found?.plate ?? null);
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

import { ActionIcon, Button, SegmentedControl, Select, Switch } from '@mantine/core';
import { type Rect, turnedSize } from '@muted-pond/core/pixels';
import { framedSize } from '@muted-pond/core/recipe';
import { IconRotate2, IconRotateClockwise2 } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { useLimits } from '../../api/limits.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { BankSection } from '../../ui/Bank.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import {
  cropToShape,
  FREE,
  limitShapes,
  lyingShape,
  SHAPES,
  shapeById,
  shapedRect,
  turnBy,
  withCrop,
} from './crop-edits.js';
import { setCropView, useCropView } from './crop-view.js';
import classes from './cut.module.css';

export function FrameSection() {
  const { store } = useWorkspace();
  const { size } = useTake();
  const limits = useLimits();
  const framing = useStore(store, (state) => shownRecipe(state).framing);
  const { shape: shapeId, drawn } = useCropView();
  const shape = shapeById(shapeId, limits);
  const { turn, mirror } = framing;
  const crop = framing.crop ?? { x: 0, y: 0, ...size };
  const setCrop = (rect: Rect | null) => {
    setCropView({ drawn: rect });
    store.getState().change((recipe) => withCrop(recipe, rect, size));
  };

  function chooseShape(id: string): void {
    setCropView({ shape: id });
    const { size: wanted, limit } = shapeById(id, limits);
    if (!wanted) return;
    store.getState().change((recipe) => {
      const cropped = withCrop(recipe, cropToShape(size, recipe.framing, wanted, drawn), size);
      return limit ? { ...cropped, weigh: { ...cropped.weigh, width: limit.width } } : cropped;
    });
  }

  /** By number: with a shape, the other side follows. */
  function resize(part: Partial<Rect>): void {
    const wanted = { ...crop, ...part };
    const lying = shape.size && lyingShape(shape.size, turn);
    if (lying) {
      const width = part.height ? (part.height * lying.width) / lying.height : wanted.width;
      setCrop(shapedRect({ ...wanted, width }, lying, size));
    } else setCrop(fit(wanted, size));
  }

  return (
    <BankSection title="Frame">
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Shape"
        value={shape.limit ? '' : shape.id}
        onChange={chooseShape}
        data={SHAPES.map(({ id, name }) => ({ value: id, label: name }))}
      />
      <Select
        mt={6}
        size="xs"
        aria-label="Shape of a limit"
        placeholder="or the numbers of a limit"
        value={shape.limit ? shape.id : null}
        onChange={(id) => chooseShape(id ?? FREE.id)}
        clearable
        data={limitShapes(limits).map(({ id, name, size: numbers }) => ({
          value: id,
          label: `${name} · ${numbers?.width} × ${numbers?.height}`,
        }))}
      />
      <div className={classes.frame}>
        <span className={classes.name}>Size</span>
        <NumberEntry
          label="Crop width"
          value={crop.width}
          min={1}
          max={size.width}
          onEnter={(width) => resize({ width })}
        />
        <NumberEntry
          label="Crop height"
          value={crop.height}
          min={1}
          max={size.height}
          onEnter={(height) => resize({ height })}
        />
        <span className={classes.name}>From corner</span>
        <NumberEntry
          label="Crop from the left"
          value={crop.x}
          max={size.width - crop.width}
          onEnter={(x) => setCrop({ ...crop, x })}
        />
        <NumberEntry
          label="Crop from the top"
          value={crop.y}
          max={size.height - crop.height}
          onEnter={(y) => setCrop({ ...crop, y })}
        />
      </div>
      <div className={classes.turns}>
        <span className={classes.name}>Turn</span>
        <ActionIcon
          variant="default"
          aria-label="A quarter turn to the left"
          onClick={() => store.getState().change((recipe) => turnBy(recipe, 270))}
        >
          <IconRotate2 size={17} />
        </ActionIcon>
        <ActionIcon
          variant="default"
          aria-label="A quarter turn to the right"
          onClick={() => store.getState().change((recipe) => turnBy(recipe, 90))}
        >
          <IconRotateClockwise2 size={17} />
        </ActionIcon>
        <strong>{turn}°</strong>
        <Switch
          size="xs"
          label="Mirror"
          checked={mirror}
          onChange={(event) => {
            const wanted = event.currentTarget.checked;
            store
              .getState()
              .change((recipe) => ({ ...recipe, framing: { ...recipe.framing, mirror: wanted } }));
          }}
        />
      </div>
      {framing.crop && (
        <Button variant="subtle" color="deep" size="compact-sm" onClick={() => setCrop(null)}>
          Show all of the picture
        </Button>
      )}
      <WidthWarning />
    </BankSection>
  );
}

function fit(rect: Rect, within: { width: number; height: number }): Rect {
  const width = Math.min(rect.width, within.width);
  const height = Math.min(rect.height, within.height);
  return {
    width,
    height,
    x: Math.min(rect.x, within.width - width),
    y: Math.min(rect.y, within.height - height),
  };
}

/** A crop is never enlarged, so a file may come out narrower than was asked for. */
function WidthWarning() {
  const { store } = useWorkspace();
  const { size } = useTake();
  const framing = useStore(store, (state) => shownRecipe(state).framing);
  const width = useStore(store, (state) => shownRecipe(state).weigh.width);
  const seen = framedSize(size, framing);
  if (seen.width >= width) return null;
  const whole = turnedSize(size, framing.turn);
  return (
    <p className={classes.warning} role="status">
      {framing.crop ? 'The crop' : 'The picture'} is {seen.width} px wide, but Weigh asks for {width} px.
      Nothing is enlarged: the file will be {seen.width} px wide.
      {framing.crop && whole.width >= width && ` Widen the crop to ${width} px to fill it.`}
    </p>
  );
}

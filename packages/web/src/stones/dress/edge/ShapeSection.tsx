import { SegmentedControl } from '@mantine/core';
import type { Matte, Size } from '@muted-pond/core/pixels';
import { framedSize, RECIPE_LIMITS, type Recipe } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useTake } from '../../../piece/piece-take.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { shownRecipe } from '../../../store/piece-store.js';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { Colour } from '../Colour.js';
import classes from '../dress.module.css';
import { useDressEdits } from '../use-dress.js';

const SHAPES = {
  own: null,
  square: { width: 1, height: 1 },
  tall: { width: 4, height: 5 },
  wide: { width: 16, height: 9 },
  phone: { width: 9, height: 16 },
} as const;
type ShapeName = keyof typeof SHAPES;

const SHAPE_NAMES: Record<ShapeName | 'other', string> = {
  own: 'as it is cropped',
  square: 'square',
  tall: '4 : 5, upright',
  wide: '16 : 9, wide',
  phone: '9 : 16, a phone',
  other: 'a shape of its own',
};

/** Room beside the picture so that it reaches another shape: nothing is cut off. */
export function ShapeSection() {
  const { store } = useWorkspace();
  const { change } = useDressEdits();
  const take = useTake();
  const framing = useStore(store, (state) => shownRecipe(state).framing);
  const { box } = framing;
  const name = box ? shapeOf(box) : 'own';
  return (
    <BankSection title="Shape">
      <ChoiceRow
        label="Reaches"
        value={name}
        names={name === 'other' ? SHAPE_NAMES : withoutOther(SHAPE_NAMES)}
        hint="The picture stays whole; there is room beside it"
        onChange={(shape) =>
          shape !== 'other' && change((recipe) => withShape(recipe, take.size, SHAPES[shape]))
        }
      />
      {box && (
        <>
          <SegmentedControl
            className={classes.spread}
            size="xs"
            fullWidth
            aria-label="What fills the room beside the picture"
            value={box.blurred ? 'blurred' : 'colour'}
            onChange={(value) => change((recipe) => withBox(recipe, { blurred: value === 'blurred' }))}
            data={[
              { value: 'colour', label: 'A colour' },
              { value: 'blurred', label: 'The picture, blurred' },
            ]}
          />
          {!box.blurred && (
            <Colour
              label="Colour beside the picture"
              value={box.matte === 'transparent' ? '#ffffff' : box.matte}
              onChange={(matte) => change((recipe) => withBox(recipe, { matte: matte as Matte }))}
            />
          )}
        </>
      )}
    </BankSection>
  );
}

function withoutOther({ other, ...names }: typeof SHAPE_NAMES): typeof SHAPE_NAMES {
  return names as typeof SHAPE_NAMES;
}

function shapeOf(box: Size): ShapeName | 'other' {
  const found = (Object.keys(SHAPES) as ShapeName[]).find((name) => {
    const shape = SHAPES[name];
    return shape && Math.abs(box.width / box.height / (shape.width / shape.height) - 1) < 0.01;
  });
  return found ?? 'other';
}

function withBox(recipe: Recipe, part: Partial<NonNullable<Recipe['framing']['box']>>): Recipe {
  const { box } = recipe.framing;
  return box ? { ...recipe, framing: { ...recipe.framing, box: { ...box, ...part } } } : recipe;
}

/** The smallest frame of a shape that holds all of the cropped picture. */
function withShape(recipe: Recipe, take: Size, shape: Size | null): Recipe {
  const { framing } = recipe;
  if (!shape) return { ...recipe, framing: { ...framing, box: null } };
  const bare = framedSize(take, { ...framing, box: null });
  const ratio = shape.width / shape.height;
  const wanted =
    bare.width / bare.height > ratio
      ? { width: bare.width, height: bare.width / ratio }
      : { width: bare.height * ratio, height: bare.height };
  const most = RECIPE_LIMITS.side.max / Math.max(wanted.width, wanted.height);
  const scale = Math.min(1, most);
  const size = {
    width: Math.max(1, Math.round(wanted.width * scale)),
    height: Math.max(1, Math.round(wanted.height * scale)),
  };
  const { box } = framing;
  const fill = { matte: box?.matte ?? ('#ffffff' as Matte), blurred: box?.blurred ?? true };
  return { ...recipe, framing: { ...framing, box: { ...size, fit: 'contain', ...fill } } };
}

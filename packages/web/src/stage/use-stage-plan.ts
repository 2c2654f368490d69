import { stagePlanKey } from '@muted-pond/core/derived';
import { type DressSettings, scaleDress, UNDRESSED } from '@muted-pond/core/dress';
import { PLAIN_LOOP } from '@muted-pond/core/loop';
import { sizeWithin } from '@muted-pond/core/pixels';
import { framedSize, type Recipe, type SourceFile } from '@muted-pond/core/recipe';
import type { Weaves } from '@muted-pond/core/render';
import { NOTHING_HELD, type Plate } from '@muted-pond/core/still';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { StagePlan } from '../pictures/composed-frames.js';
import { filesOf } from '../piece/piece-take.js';
import { useRecipeBy } from '../piece/use-recipe-by.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { sentenceOf } from '../ui/sentence.js';
import { useWeaves } from '../weave/use-weaving.js';
import type { ComposedPictures, HeldPictures } from '../workers/composed-pictures.js';

const NO_WEAVES: Weaves = {};
/** Longer side of composed pictures on the stage, px. */
const STAGE_SIDE = 800;

export interface StagePlanWish {
  /** Width of the pictures; as large as the stage by default. */
  readonly width?: number;
  /** Without the box around the picture. */
  readonly unboxed?: boolean;
  /** Whether what lies on each other is wanted apart. */
  readonly layers?: boolean;
  /** Without colour, captions and borders; what is hidden stays hidden. */
  readonly undressed?: boolean;
  /** Nor are veils laid. */
  readonly unveiled?: boolean;
  /** Only this frame of the take, as it is filmed; null is the loop. */
  readonly single?: number | null;
  /** Held instead of the recipe's own plate. */
  readonly plate?: Plate | null;
}

/**
 * The piece as it is now, as the steps are to show it; the same object until something they depend on
 * changes.
 */
export function useStagePlan({
  width,
  unboxed = false,
  layers = false,
  undressed = false,
  unveiled = false,
  single = null,
  plate,
}: StagePlanWish): StagePlan {
  const { store, files } = useWorkspace();
  const recipe = useRecipeBy(undressed ? undressedKey : stagePlanKey);
  const isDraft = useStore(store, (state) => state.draft !== null);
  const known = useStore(files, (state) => state.files);
  const woven = useWeaves();
  return useMemo<StagePlan>(() => {
    const ofFiles = filesOf(recipe, known);
    return {
      recipe: forStage(recipe, ofFiles, { width, unboxed, undressed, unveiled, single, plate }),
      files: ofFiles,
      // A weave is of the picture as it is framed.
      weaves: single !== null || (unboxed && recipe.framing.box) ? NO_WEAVES : woven,
      layers,
      isDraft,
      single,
    };
  }, [recipe, known, woven, width, unboxed, undressed, unveiled, single, layers, isDraft, plate]);
}

function undressedKey(recipe: Recipe): string {
  return stagePlanKey({ ...recipe, dress: onlyVeils(recipe.dress) });
}

function onlyVeils({ veils }: DressSettings): DressSettings {
  return { ...UNDRESSED, veils };
}

function forStage(
  recipe: Recipe,
  [file]: readonly SourceFile[],
  { width, unboxed, undressed, unveiled, single = null, plate }: Omit<StagePlanWish, 'layers'>,
): Recipe {
  const [source] = recipe.sources;
  const framing = unboxed ? { ...recipe.framing, box: null } : recipe.framing;
  const canvas = source.kind === 'stills' ? source.canvas : file.size;
  const framed = framedSize(canvas, framing);
  const shown = width ?? sizeWithin(framed, STAGE_SIDE).width;
  const { dress } = recipe;
  // What counts pixels of the finished file is as large on the stage as it will be there.
  const scale = shown / Math.min(recipe.weigh.width, framed.width);
  return {
    ...recipe,
    ...(single !== null && {
      ...{ span: { start: single, end: single + 1 }, loop: PLAIN_LOOP },
    }),
    framing,
    still: single !== null ? NOTHING_HELD : plate === undefined ? recipe.still : { ...recipe.still, plate },
    dress: unveiled ? UNDRESSED : undressed ? onlyVeils(dress) : scaleDress(dress, scale),
    weigh: { ...recipe.weigh, width: shown },
  };
}

/**
 * A plan that changes no faster than it can be shown: while a hand moves, the newest is taken up when the one
 * before has been on the stage.
 */
export function usePacedPlan(wanted: StagePlan): StagePlan {
  const { composed } = useWorkspace();
  const [paced, setPaced] = useState(wanted);
  // Before the browser paints: the hand is waiting.
  useLayoutEffect(() => {
    if (wanted === paced) return;
    let current = true;
    void composed.firstAnswer(paced).then(() => current && setPaced(wanted));
    return () => {
      current = false;
    };
  }, [composed, wanted, paced]);
  return paced;
}

export interface ComposedPlace {
  readonly plan: StagePlan;
  readonly place: number;
  readonly pictures: ComposedPictures;
  /** Where layers are asked for and something is held. */
  readonly held: HeldPictures | null;
}

/** A place of a plan; the one before stays until it is there. */
export function useComposedPlace(
  plan: StagePlan,
  place: number,
  onProblem: (sentence: string | null) => void,
): ComposedPlace | null {
  const { composed } = useWorkspace();
  const [shown, setShown] = useState<ComposedPlace | null>(null);
  /** What ends the lease of each place that is shown, was shown or is about to be, the oldest first. */
  const leases = useRef(new Map<ComposedPlace, () => void>());
  // Only now has all that draws let go of those before: effects of an earlier commit run until the next one.
  useEffect(() => {
    if (!shown) return;
    for (const [one, end] of leases.current) {
      if (one === shown) return;
      end();
      leases.current.delete(one);
    }
  }, [shown]);
  useEffect(() => {
    const all = leases.current;
    return () => {
      for (const end of all.values()) end();
      all.clear();
    };
  }, []);
  useLayoutEffect(() => {
    let current = true;
    composed.load(plan, place).then(
      (pictures) => {
        const held = composed.held(plan);
        const taken = current ? composed.lease(pictures, held) : null;
        if (!taken) return;
        const next = { plan, place, pictures, held };
        leases.current.set(next, taken);
        setShown(next);
        onProblem(null);
      },
      (error: Error) => current && onProblem(sentenceOf(error)),
    );
    return () => {
      current = false;
    };
  }, [composed, plan, place, onProblem]);
  return shown;
}

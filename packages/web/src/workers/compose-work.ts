import type { PixelFrame, Rect } from '@muted-pond/core/pixels';
import { type Recipe, type SourceFile, takeOf } from '@muted-pond/core/recipe';
import {
  type ComposedPlate,
  type FrameSource,
  framesAt,
  planRender,
  type RenderPlan,
  type ShownLayers,
  type StepsRun,
  startSteps,
  type Weaves,
} from '@muted-pond/core/render';
import { sentenceOf } from '../ui/sentence.js';
import { type LookFrames, lookFrames } from './look-frames.js';

/** Something laid over the frames: where hands take hold of it, px of the frame. */
export interface LaidBlock extends Rect {
  readonly id: string;
}

/** What the composing worker is told. */
export type ComposeMessage =
  | {
      readonly type: 'plan';
      readonly plan: number;
      readonly recipe: Recipe;
      readonly files: readonly SourceFile[];
      readonly weaves: Weaves;
      readonly isDraft: boolean;
    }
  | { readonly type: 'show'; readonly plan: number; readonly place: number; readonly layers: boolean }
  /** Each look on a small picture of a place. */
  | { readonly type: 'looks'; readonly plan: number; readonly place: number };

export type ComposeAnswer =
  /** What is held, told once for a plan whose layers are asked for. */
  | { readonly type: 'held'; readonly plan: number; readonly held: ComposedPlate }
  | {
      readonly type: 'composed';
      readonly plan: number;
      readonly place: number;
      /** What the steps make of it. */
      readonly frame: PixelFrame;
      /** What can be laid over it, whenever that is seen; the lowest first. */
      readonly blocks: readonly LaidBlock[];
      /** Before they are laid together, where that was asked for. */
      readonly layers: ShownLayers | null;
    }
  | { readonly type: 'looks'; readonly plan: number; readonly place: number; readonly looks: LookFrames }
  | { readonly type: 'failed'; readonly plan: number; readonly place: number; readonly problem: string };

/** Composed frames of the take that are kept while a reel plays. */
const MOST_KEPT = 60;

interface Current {
  readonly id: number;
  readonly plan: RenderPlan;
  readonly run: Promise<StepsRun>;
  toldHeld: boolean;
}

/**
 * Takes places of a reel through the steps, one after the other; a new plan drops the requests of the last
 * one.
 */
export function createComposeWork(source: FrameSource, answer: (reply: ComposeAnswer) => void) {
  type Show = Exclude<ComposeMessage, { type: 'plan' }>;
  let current: Current | null = null;
  let asked: Show[] = [];
  let kept: number[] = [];
  let isWorking = false;

  async function compose(now: Current, asked: Show): Promise<readonly ComposeAnswer[]> {
    const { plan, place } = asked;
    try {
      const run = await now.run;
      if (asked.type === 'looks') return [await looksAt(now, run, place)];
      const { layers } = asked;
      const frames = framesAt(now.plan, place, layers);
      await run.read(frames);
      const frame = run.show(place);
      const composed = {
        type: 'composed',
        plan,
        place,
        frame,
        blocks: run.overlays().map(({ id, block }) => ({ id, ...block })),
        layers: layers ? run.layers(place) : null,
      } as const;
      keep(run, frames);
      if (!layers) return [composed];
      const held = now.toldHeld ? null : run.plate();
      now.toldHeld = true;
      return held ? [{ type: 'held', plan, held }, composed] : [composed];
    } catch (error) {
      const problem = sentenceOf(error);
      return [{ type: 'failed', plan, place, problem }];
    }
  }

  async function looksAt(now: Current, run: StepsRun, place: number): Promise<ComposeAnswer> {
    await run.read(framesAt(now.plan, place));
    const looks = lookFrames(run.show(place, true), now.plan.dress.colour);
    return { type: 'looks', plan: now.id, place, looks };
  }

  function keep(run: StepsRun, frames: readonly number[]): void {
    kept = [...kept.filter((frame) => !frames.includes(frame)), ...frames];
    if (kept.length <= MOST_KEPT) return;
    run.forget(kept.slice(0, kept.length - MOST_KEPT));
    kept = kept.slice(-MOST_KEPT);
  }

  async function work(): Promise<void> {
    if (isWorking) return;
    isWorking = true;
    for (let next = asked.shift(); next; next = asked.shift()) {
      const now = current;
      if (now?.id !== next.plan) continue;
      const replies = await compose(now, next);
      // A newer plan may have come meanwhile.
      if (current === now) for (const reply of replies) answer(reply);
    }
    isWorking = false;
  }

  return (message: ComposeMessage): void => {
    if (message.type === 'plan') {
      asked = [];
      current = open(message, source, current);
      return;
    }
    asked.push(message);
    void work();
  };
}

function open(
  { plan: id, recipe, files, weaves, isDraft }: Extract<ComposeMessage, { type: 'plan' }>,
  source: FrameSource,
  before: Current | null,
): Current {
  const plan = planRender(recipe, takeOf(recipe, files), { isDraft, weaves });
  // What both plans have in common is not made anew; after a failure, all is.
  const begin = () => startSteps(plan, source);
  const run = before ? before.run.then((earlier) => earlier.replan(plan), begin) : begin();
  // Whoever asks for a place is told.
  run.catch(() => {});
  return { id, plan, run, toldHeld: false };
}

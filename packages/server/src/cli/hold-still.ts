import { mkdtemp, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import { alignSignatures, SIGNATURE_BYTES, SIGNATURE_SIZE } from '@muted-pond/core/motion';
import { type Size, sizeWithin } from '@muted-pond/core/pixels';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import {
  choosePlate,
  joinMasks,
  LONGEST_MASK_SIDE,
  NOTHING_HELD,
  PROPOSED_EDGE,
  proposedMasks,
  refineMask,
  resizeMask,
  stillHashes,
} from '@muted-pond/core/still';
import type { Span } from '@muted-pond/core/timing';
import { type MakingFile, type MakingLayer, mapFootage, readMask, sourceFile } from '../making/index.js';
import { encodeGreyPng, probePicture, readSmall } from '../media/index.js';
import { fileIdentity } from './file-identity.js';
import type { RenderFlags } from './render-flags.js';

/** Shapes that differ by less than this are the same, a mask being scaled to the footage. */
const SAME_SHAPE = 0.01;
/** Softening of a mask in small, so that its edge has a width in which plates can be compared. */
const SMALL_EDGE = 3;

export interface HeldRecipe {
  readonly recipe: Recipe;
  readonly layers: readonly MakingLayer[];
  /** Removes the temporary files. */
  cleanUp(): Promise<void>;
}

/** The recipe with mask, plate, steady and even light of the command line laid over it. */
export async function holdStill(
  flags: RenderFlags,
  recipe: Recipe,
  files: readonly MakingFile[],
): Promise<HeldRecipe> {
  const { plate, steady, evenLight, ripples } = flags;
  if (stillHashes(recipe.still).length > 0 && !flags.mask) {
    throw new UserError(
      'bad_flag',
      'This recipe has painted masks, which lie with the server. Give --mask FILE.png.',
    );
  }
  if (!flags.mask && !ripples) {
    if (plate === null && !steady && !evenLight) return { recipe, layers: [], cleanUp: async () => {} };
    throw new UserError(
      'bad_flag',
      '--plate, --steady and --even-light need --mask FILE.png, in which white moves, or --ripples auto.',
    );
  }
  if (flags.mask && ripples)
    throw new UserError('bad_flag', '--mask and --ripples both say what moves; give one.');
  const { times, size } = takeOf(recipe, files.map(sourceFile));
  if (typeof plate === 'number' && plate >= times.starts.length) {
    throw new UserError(
      'bad_flag',
      `--plate ${plate}: the footage has the frames 0 to ${times.starts.length - 1}.`,
    );
  }
  if (flags.mask) await checkShape(flags.mask, size);
  const proposal = flags.mask ? null : await proposeMask(files[0], recipe.span, size);
  const mask = flags.mask ?? (proposal as Proposal).path;
  try {
    const frame =
      plate === 'auto' ? await bestPlate(files[0], recipe.span, mask) : (plate ?? recipe.span.start);
    const hash = await fileIdentity(mask);
    const ripple = {
      ...{ id: 'mask', name: basename(mask).slice(0, 80), mask: hash, outlines: [] },
      ...{ grow: 0, feather: 0, invert: false, shown: true, loop: null },
      ...(proposal ? PROPOSED_EDGE : {}),
    };
    const still = { ...NOTHING_HELD, plate: { kind: 'frame' as const, frame }, ripples: [ripple] };
    return {
      recipe: { ...recipe, still: { ...still, steady, evenLight } },
      layers: [{ hash, path: mask }],
      cleanUp: async () => proposal?.remove(),
    };
  } catch (error) {
    await proposal?.remove();
    throw error;
  }
}

async function checkShape(mask: string, size: { width: number; height: number }): Promise<void> {
  await stat(mask);
  const { width, height } = await probePicture(mask, basename(mask));
  if (Math.abs(width / height / (size.width / size.height) - 1) > SAME_SHAPE) {
    throw new UserError(
      'bad_flag',
      `The mask is ${width} × ${height} px and the footage ${size.width} × ${size.height}: give a mask of the footage’s shape.`,
    );
  }
}

interface Proposal {
  readonly path: string;
  remove(): Promise<void>;
}

/** The large parts that move in the span, as a picture on the disk for as long as the file is made. */
async function proposeMask(file: MakingFile, span: Span, size: Size): Promise<Proposal> {
  if (file.facts.kind === 'picture' || span.end - span.start < 2) {
    throw new UserError(
      'bad_flag',
      `“${file.name}” does not move; --ripples auto needs footage. Give --mask FILE.png.`,
    );
  }
  const masks = proposedMasks(await mapFootage(file, span), sizeWithin(size, LONGEST_MASK_SIDE));
  if (masks.length === 0) {
    throw new UserError(
      'bad_flag',
      'Nothing in this span moves enough to propose it. Give --mask FILE.png, or widen the span.',
    );
  }
  const { width, height, values } = masks.reduce(joinMasks);
  const folder = await mkdtemp(join(tmpdir(), 'muted-pond-moving-'));
  const path = join(folder, 'moving parts.png');
  await writeFile(path, await encodeGreyPng(values, { width, height }));
  return { path, remove: () => rm(folder, { recursive: true, force: true }) };
}

/** The frame of the span that meets what moves best along its edge. */
async function bestPlate(file: MakingFile, span: Span, mask: string): Promise<number> {
  const count = span.end - span.start;
  const frames = Array.from({ length: count }, (_, i) => span.start + i);
  const signatures = new Uint8Array(count * SIGNATURE_BYTES);
  for await (const { frame, signature } of readSmall({ ...file, frames })) {
    signatures.set(signature, (frame - span.start) * SIGNATURE_BYTES);
  }
  const small = resizeMask(await readMask(mask), SIGNATURE_SIZE);
  const { values } = refineMask(small, { grow: 0, feather: SMALL_EDGE, invert: false });
  const all = frames.map((_, i) => i);
  const choice = choosePlate(alignSignatures(signatures), values, all, all, 0);
  return span.start + (choice?.best.frame ?? 0);
}

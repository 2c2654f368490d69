import { framedSize, takeOf } from '@muted-pond/core/recipe';
import {
  type LookedAtTake,
  lookAtTake,
  lookKey,
  planWeaving,
  type RenderPlan,
  type Weaves,
  type WeaveWish,
  type WovenPart,
  weaveKey,
  wishedWeaves,
  wovenPart,
} from '@muted-pond/core/render';
import { LRUCache } from 'lru-cache';
import { PictureCache } from '../cache/index.js';
import { openFrameSource } from './frame-source.js';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';

/** What is woven of a recipe, by its names in the reels. */
export type WovenParts = Readonly<Record<string, WovenPart>>;

/**
 * The take that was looked at last in this thread: what is only woven otherwise starts from it. It is tens of
 * megabytes, and let go of when nobody has woven for two minutes.
 */
const looks = new LRUCache<string, LookedAtTake>({
  ...{ max: 1, ttl: 120_000, updateAgeOnGet: true, ttlAutopurge: true },
});
/** Weaves that were made last in this thread. */
const made = new LRUCache<string, WovenPart>({ max: 16 });
/** Reading the frames is most of it. */
const READ_SHARE = 0.8;

/**
 * All weaves that a recipe asks for; those that were made before from the cache.
 * @param onProgress 0–1.
 * @throws UserError where one cannot be made.
 */
export async function weaveRecipe(
  task: MakingTask,
  onProgress: (done: number) => void = () => {},
): Promise<WovenParts> {
  const wishes = wishedWeaves(task.recipe);
  const parts: Record<string, WovenPart> = {};
  for (const [i, wish] of wishes.entries()) {
    parts[wish.name] = await weave(task, wish, (done) => onProgress((i + done) / wishes.length));
  }
  return parts;
}

/** The same without what is to be said of them. */
export async function weavesOf(task: MakingTask, onProgress?: (done: number) => void): Promise<Weaves> {
  const parts = await weaveRecipe(task, onProgress);
  return Object.fromEntries(Object.entries(parts).map(([name, { weave }]) => [name, weave]));
}

async function weave(
  task: MakingTask,
  wish: WeaveWish,
  onProgress: (done: number) => void,
): Promise<WovenPart> {
  const plan = planWeaving(task.recipe, takeOf(task.recipe, task.files.map(sourceFile)), wish.span);
  const id = weaveKey(plan, wish);
  const cache = task.cacheDir ? new PictureCache(task.cacheDir) : null;
  const place = [task.files[0].hash, `woven-${id}`, 0] as const;
  const kept = made.get(id) ?? (await cache?.get(...place).then((bytes) => bytes && readPart(bytes)));
  const part = kept ?? wovenPart(await look(task, plan, wish, onProgress), plan, wish, id);
  made.set(id, part);
  if (!kept) await cache?.put(...place, Buffer.from(JSON.stringify(part)));
  return part;
}

function readPart(bytes: Buffer): WovenPart {
  return JSON.parse(bytes.toString()) as WovenPart;
}

/** The frames of a span, looked at; the last one's are kept in this thread. */
export async function look(
  { files, layers, recipe }: MakingTask,
  plan: RenderPlan,
  wish: WeaveWish,
  onProgress: (done: number) => void,
): Promise<LookedAtTake> {
  const key = lookKey(plan, wish);
  const there = looks.get(key);
  if (there) return there;
  // Not two at once.
  looks.clear();
  const scale = plan.size.width / framedSize(plan.take.size, recipe.framing).width;
  // No larger than it is looked at: steadying takes time with every pixel.
  const source = openFrameSource(files, layers, ({ size }) => ({
    width: Math.max(1, Math.round(size.width * scale)),
    height: Math.max(1, Math.round(size.height * scale)),
  }));
  const looked = await lookAtTake(plan, wish, source, (done) => onProgress(READ_SHARE * done));
  looks.set(key, looked);
  return looked;
}

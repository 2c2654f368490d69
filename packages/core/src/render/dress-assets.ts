import type { Cube } from '../colour/index.js';
import {
  blockOf,
  type Caption,
  captionSvg,
  chooseFonts,
  cleanText,
  type Emblem,
  emblemRect,
  isOwnFont,
  letterPx,
  measuringSvg,
  type Overlay,
  placeEmblem,
  type ShownTime,
  seenAt,
} from '../dress/index.js';
import type { Rect, Size } from '../pixels/index.js';
import type { FrameSource } from './frame-source.js';
import type { RenderPlan } from './plan-render.js';

/** Something that is laid over frames of the reel, drawn at their size. */
export interface DrawnOverlay extends Overlay {
  readonly id: string;
  /** What hands take hold of: without outlines and shadows, px of the frame. */
  readonly block: Rect;
  /** How much of it is seen at a moment of the reel, 0–1. */
  seenAt(atCs: number): number;
}

/** What the dress of a plan needs beside the pictures: read and drawn once. */
export interface DressAssets {
  readonly cube: Cube | null;
  /** The lowest first. */
  readonly overlays: readonly DrawnOverlay[];
}

/** Captions and emblems that are not seen at any place of the plan are left out. */
export async function openDressAssets(plan: RenderPlan, source: FrameSource): Promise<DressAssets> {
  const { colour, emblems, captions } = plan.dress;
  const isSeen = ({ shown, time }: { shown: boolean; time: ShownTime | null }, fadeCs: number) =>
    shown && plan.beginsCs.some((atCs) => seenAt(time, fadeCs, atCs) > 0);
  const overlays: DrawnOverlay[] = [];
  for (const emblem of emblems) {
    if (isSeen(emblem, 0)) overlays.push(await drawEmblem(emblem, plan.size, source));
  }
  for (const caption of captions) {
    if (!isSeen(caption, caption.fadeCs)) continue;
    const drawn = await drawCaption(caption, plan.size, source);
    if (drawn) overlays.push(drawn);
  }
  return { cube: colour.table ? await source.table(colour.table.hash) : null, overlays };
}

async function drawEmblem(emblem: Emblem, size: Size, source: FrameSource): Promise<DrawnOverlay> {
  const picture = await source.picture(emblem.hash);
  return {
    ...placeEmblem(emblem, picture, size),
    id: emblem.id,
    block: emblemRect(emblem, picture, size),
    seenAt: (atCs) => seenAt(emblem.time, 0, atCs) * (emblem.opacity / 100),
  };
}

/** @returns null where there is nothing to draw. */
async function drawCaption(caption: Caption, size: Size, source: FrameSource): Promise<DrawnOverlay | null> {
  const { style, x, y } = caption;
  const { engine } = source;
  const all = await engine.faces(isOwnFont(style.font) ? [style.font] : []);
  const { faces, missing } = chooseFonts(caption.text, style.font, all);
  // What no font has would be an empty box; it is told where the words are typed.
  const text = [...cleanText(caption.text).text].filter((letter) => !missing.includes(letter)).join('');
  if (text.trim() === '') return null;
  const drawn = { ...caption, text };
  const px = letterPx(drawn, size);
  const ink = await engine.bounds(measuringSvg(drawn, faces[0].family, px), faces);
  if (!ink) return null;
  const drawing = captionSvg(drawn, faces[0].family, px, ink);
  const picture = await engine.draw(drawing.svg, faces);
  const [middleX, middleY] = [x * size.width, y * size.height];
  const block = blockOf(text, style.lineHeight * px, ink);
  return {
    picture,
    x: Math.round(middleX + drawing.x),
    y: Math.round(middleY + drawing.y),
    id: caption.id,
    block: { ...block, x: middleX - block.width / 2, y: middleY + block.y },
    seenAt: (atCs) => seenAt(caption.time, caption.fadeCs, atCs),
  };
}

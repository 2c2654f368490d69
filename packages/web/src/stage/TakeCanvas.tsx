import { useEffect, useRef } from 'react';
import { frameKey } from '../api/frame-urls.js';
import type { PieceTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { sentenceOf } from '../ui/sentence.js';
import { amplify, type DrawWay, drawFrame, type Layer } from './draw.js';
import classes from './stage.module.css';

interface TakeCanvasProps {
  readonly take: PieceTake;
  /** Frames of the take, the lowest first. */
  readonly layers: readonly Layer[];
  /** How many times lighter the result is shown: 1, 2, 4 or 8. */
  readonly amplified?: number;
  readonly way: DrawWay;
  readonly label: string;
  readonly onProblem?: (sentence: string | null) => void;
}

/** Frames of the take laid over each other, drawn as soon as all are there. */
export function TakeCanvas({ take, layers, amplified = 1, way, label, onProblem }: TakeCanvasProps) {
  const { frames } = useWorkspace();
  const canvas = useRef<HTMLCanvasElement>(null);
  const shown = JSON.stringify(layers);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    const wanted = JSON.parse(shown) as Layer[];
    if (!context || wanted.some(({ frame }) => frame >= take.frameCount)) return;
    let current = true;
    const places = wanted.map(({ frame }) => take.frame(frame));
    const keys = places.map(({ file, frame }) => frameKey(file.hash, frame));
    const draw = (bitmaps: readonly ImageBitmap[]) => {
      if (!current) return;
      for (const [i, layer] of wanted.entries())
        drawFrame(context, bitmaps[i], places[i], way, i === 0 ? null : layer);
      amplify(context, amplified);
      context.canvas.dataset.frame = wanted.map(({ frame }) => frame).join(' ');
      onProblem?.(null);
    };
    const there = keys.map((key) => frames.get(key));
    if (there.every((bitmap) => bitmap !== null)) draw(there);
    else {
      Promise.all(keys.map((key) => frames.load(key))).then(
        draw,
        (error: Error) => current && onProblem?.(sentenceOf(error)),
      );
    }
    return () => {
      current = false;
    };
  }, [frames, take, shown, amplified, way, onProblem]);
  return <canvas ref={canvas} className={classes.canvas} role="img" aria-label={label} />;
}

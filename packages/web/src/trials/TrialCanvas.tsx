import type { TrialView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { fileKind } from '@muted-pond/core/files';
import { useQuery } from '@tanstack/react-query';
import { type RefObject, useEffect, useMemo, useRef } from 'react';
import { trialFileUrl } from '../api/queries.js';
import stage from '../stage/stage.module.css';
import { sentenceOf } from '../ui/sentence.js';
import { onlyColour } from './only-colour.js';
import { TrialFrames } from './trial-frames.js';
import classes from './trials.module.css';
import { useTrialPicture } from './use-trial-picture.js';

interface TrialCanvasProps {
  readonly trial: TrialView;
  /** The moment that is shown, centiseconds from the loop's start. */
  readonly atCs: number;
  /** A colour whose pixels stand out; null: all. */
  readonly only: string | null;
  /** Whether short delays are drawn out, as some viewers do. */
  readonly isStretched?: boolean;
  readonly onProblem: (sentence: string | null) => void;
}

/** A finished file at a moment of it, picture by picture. */
export function TrialCanvas(props: TrialCanvasProps) {
  const kind = fileKind(props.trial.figures?.kind ?? props.trial.recipe.weigh.kind);
  return kind.readBy === 'core' ? <GifCanvas {...props} /> : <PictureCanvas {...props} />;
}

/** Of kinds that the server takes apart. */
function PictureCanvas({ trial, atCs, onProblem }: TrialCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data: picture, error } = useTrialPicture(trial, atCs);
  useEffect(() => onProblem(error ? sentenceOf(error) : null), [error, onProblem]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !picture) return;
    context.canvas.width = picture.width;
    context.canvas.height = picture.height;
    context.drawImage(picture, 0, 0);
  }, [picture]);
  return <ShownCanvas canvas={canvas} trial={trial} atCs={atCs} />;
}

interface ShownCanvasProps {
  readonly canvas: RefObject<HTMLCanvasElement | null>;
  readonly trial: TrialView;
  readonly atCs: number;
}

function ShownCanvas({ canvas, trial, atCs }: ShownCanvasProps) {
  return (
    <canvas
      ref={canvas}
      className={`${stage.canvas} ${classes.sharpPixels}`}
      role="img"
      aria-label={`Trial ${trial.letter}, picture by picture`}
      data-trial={trial.letter}
      data-at={atCs}
    />
  );
}

/** A GIF is decoded here. */
function GifCanvas({ trial, atCs, only, isStretched = false, onProblem }: TrialCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const file = useQuery({
    queryKey: ['trial-file', trial.id],
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    queryFn: async () => {
      const response = await fetch(trialFileUrl(trial.id));
      if (!response.ok)
        throw new UserError('file_gone', `The file of trial ${trial.letter} is gone. Make it again.`);
      return new Uint8Array(await response.arrayBuffer());
    },
  });
  const frames = useMemo(() => (file.data ? new TrialFrames(file.data) : null), [file.data]);
  useEffect(() => onProblem(file.error ? sentenceOf(file.error) : null), [file.error, onProblem]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !frames) return;
    const { width, height, rgba } = frames.at(atCs, isStretched);
    if (context.canvas.width !== width || context.canvas.height !== height) {
      context.canvas.width = width;
      context.canvas.height = height;
    }
    const pixels = only
      ? onlyColour(rgba, only)
      : new Uint8ClampedArray(rgba.buffer as ArrayBuffer, rgba.byteOffset, rgba.length);
    context.putImageData(new ImageData(pixels, width, height), 0, 0);
  }, [frames, atCs, only, isStretched]);
  return <ShownCanvas canvas={canvas} trial={trial} atCs={atCs} />;
}

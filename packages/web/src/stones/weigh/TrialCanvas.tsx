import type { TrialView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { trialFileUrl } from '../../api/queries.js';
import stage from '../../stage/stage.module.css';
import { sentenceOf } from '../../ui/sentence.js';
import { onlyColour } from './only-colour.js';
import { TrialFrames } from './trial-frames.js';
import classes from './weigh.module.css';

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

/** A finished file at a moment of it, decoded here picture by picture. */
export function TrialCanvas({ trial, atCs, only, isStretched = false, onProblem }: TrialCanvasProps) {
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

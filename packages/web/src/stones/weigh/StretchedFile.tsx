import type { TrialView } from '@muted-pond/core/api';
import { useEffect, useState } from 'react';
import { TrialCanvas } from '../../trials/TrialCanvas.js';

interface StretchedFileProps {
  readonly trial: TrialView;
  readonly size: { readonly width: number; readonly height: number };
  readonly onProblem: (sentence: string | null) => void;
}

/** The file at the pace of viewers that draw short delays out. */
export function StretchedFile({ trial, size, onProblem }: StretchedFileProps) {
  const [atCs, setAtCs] = useState(0);
  useEffect(() => {
    const began = performance.now();
    let asked = requestAnimationFrame(function show(now) {
      setAtCs(Math.max(0, now - began) / 10);
      asked = requestAnimationFrame(show);
    });
    return () => cancelAnimationFrame(asked);
  }, []);
  return (
    <div style={size}>
      <TrialCanvas trial={trial} atCs={atCs} only={null} isStretched onProblem={onProblem} />
    </div>
  );
}

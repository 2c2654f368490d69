import type { TrialView } from '@muted-pond/core/api';
import type { CSSProperties } from 'react';
import { trialFileUrl, trialPictureUrl } from '../api/queries.js';

interface PlayingTrialProps {
  readonly trial: TrialView;
  /** What is told of it; empty where something beside it says so. */
  readonly about: string;
  readonly className?: string;
  readonly style?: CSSProperties;
}

/** A finished file as a browser shows it: an image, a movie without a player bar, or the first frame of many. */
export function PlayingTrial({ trial, about, className, style }: PlayingTrialProps) {
  const { width, height } = trial.figures ?? trial.progress?.file ?? {};
  const look = { className, style, width, height, draggable: false, 'data-trial': trial.letter };
  if (trial.shownAs === 'movie') {
    const src = trialFileUrl(trial.id);
    // Another file is another movie: it begins at its beginning.
    return <video key={src} {...look} src={src} aria-label={about} autoPlay muted loop playsInline />;
  }
  const src = trial.shownAs === 'list' ? trialPictureUrl(trial.id, 0) : trialFileUrl(trial.id);
  return <img {...look} src={src} alt={about} />;
}

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

/** Kinds that a page plays as a movie. */
const MOVIES = ['mp4', 'webm'];

/** A finished file as a browser shows it: an image, a movie without a player bar, or the first frame of many. */
export function PlayingTrial({ trial, about, className, style }: PlayingTrialProps) {
  const { kind = 'gif', width, height } = trial.figures ?? trial.progress?.file ?? {};
  const look = { className, style, width, height, draggable: false, 'data-trial': trial.letter };
  if (MOVIES.includes(kind)) {
    const src = trialFileUrl(trial.id);
    // Another file is another movie: it begins at its beginning.
    return <video key={src} {...look} src={src} aria-label={about} autoPlay muted loop playsInline />;
  }
  const src = kind === 'frames' ? trialPictureUrl(trial.id, 0) : trialFileUrl(trial.id);
  return <img {...look} src={src} alt={about} />;
}

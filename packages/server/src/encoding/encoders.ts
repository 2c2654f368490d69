import { UserError } from '@muted-pond/core/errors';
import { ffmpegText } from '../ffmpeg/index.js';
import { runOutsideJobs } from '../job-context/index.js';

/** What ffmpeg must have been built with, and what it is for. */
export const ENCODERS = {
  'libaom-av1': 'AVIF',
  libx264: 'MP4',
  'libvpx-vp9': 'WebM',
} as const;

export type Encoder = keyof typeof ENCODERS;

let listing: Promise<string> | null = null;

/** Whether the installed ffmpeg has an encoder. */
async function hasEncoder(encoder: Encoder): Promise<boolean> {
  listing ??= runOutsideJobs(listEncoders);
  // One that could not be asked is asked again.
  listing.catch(() => {
    listing = null;
  });
  return (await listing).split(/\s+/).includes(encoder);
}

async function listEncoders(): Promise<string> {
  return (await ffmpegText('ffmpeg', ['-hide_banner', '-encoders'], 20_000)).text;
}

/** What is installed is looked at anew: for tests. */
export function forgetEncoders(): void {
  listing = null;
}

/** @throws UserError when the installed ffmpeg is missing or lacks the encoder. */
export async function assertEncoder(encoder: Encoder): Promise<void> {
  if (await hasEncoder(encoder)) return;
  throw new UserError(
    'encoder_missing',
    `The ffmpeg of this machine cannot make ${ENCODERS[encoder]} (it has no ${encoder}). Choose another kind of file, or install an ffmpeg that has it.`,
  );
}

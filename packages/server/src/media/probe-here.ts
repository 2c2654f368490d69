import { UserError } from '@muted-pond/core/errors';
import type { MediaFacts } from '../decoder/index.js';
import { probeGif } from './animation-gif.js';
import { probeWebp } from './animation-webp.js';
import { probeShownPicture } from './picture.js';
import { probeVideo } from './probe-video.js';
import { sniffFile } from './sniff.js';

/**
 * Reads what a file is and when its frames are shown, in this thread. Its content decides, never its name.
 * @param name what the user calls the file, for messages.
 * @throws UserError with a sentence, for everything that cannot be used.
 */
export async function probeHere(path: string, name: string): Promise<MediaFacts> {
  switch (await sniffFile(path)) {
    case 'empty':
      throw new UserError('empty_file', `“${name}” is empty (0 bytes). Copy it here again.`);
    case 'drawing':
      throw new UserError(
        'a_drawing',
        `“${name}” is a drawing (SVG), which may name other files. Save it as a PNG and bring that in.`,
      );
    case 'gif':
      return probeGif(path, name);
    case 'webp-animation':
      return probeWebp(path, name);
    case 'picture':
      return probeShownPicture(path, name);
    case 'apng':
    case 'video':
      return probeVideo(path, name);
  }
}

/** Flags that ask for a part of the footage, or look at it otherwise first. */
const OTHERWISE = ['--from', '--to', '--recipe', '--auto-loop', '--steady', '--help'];
/** Endings of pictures and animations that another reader takes. */
const NO_VIDEO = /\.(png|jpe?g|webp|gif|avif|tiff?|svg)$/i;

/**
 * The file that a command line seems to read from the first frame to the last, by its plain words: only a guess
 * from which nothing follows but that it is begun early.
 */
export function wholeVideoOf(args: readonly string[]): string | null {
  const sources = args.filter((_, i) => args[i - 1] === '--source');
  const isOther = args.some((arg) => OTHERWISE.some((flag) => arg === flag || arg.startsWith(`${flag}=`)));
  return sources.length === 1 && !isOther && !NO_VIDEO.test(sources[0]) ? sources[0] : null;
}

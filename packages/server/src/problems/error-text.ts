/** An error as it goes to the log: its stack, or what there is of it. Errors of other threads may have none. */
export function errorText(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  const cause = error.cause === undefined ? '' : `\ncaused by ${errorText(error.cause)}`;
  return `${error.stack || String(error)}${cause}`;
}

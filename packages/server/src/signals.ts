/** Longest time of a graceful shutdown, ms. */
const LONGEST_END_MS = 1800;
/** A terminal sends its signal to every process of a command: what comes so soon is the same one, ms. */
const SAME_SIGNAL_MS = 400;

/** Ends the process on SIGINT and SIGTERM, whatever is open; a second signal ends it at once. */
export function endOnSignals(close: () => Promise<void>): void {
  let since: number | null = null;
  const onSignal = () => {
    if (since !== null) {
      if (performance.now() - since > SAME_SIGNAL_MS) process.exit(1);
      return;
    }
    since = performance.now();
    setTimeout(() => process.exit(0), LONGEST_END_MS).unref();
    close().then(
      () => process.exit(0),
      (error: unknown) => {
        console.error(error);
        process.exit(1);
      },
    );
  };
  process.on('SIGINT', onSignal);
  process.on('SIGTERM', onSignal);
}

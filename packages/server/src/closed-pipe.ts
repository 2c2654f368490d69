/** Ends quietly where whoever reads what is printed has seen enough of it. */
export function endWhenNobodyReads(): void {
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code !== 'EPIPE') throw error;
    process.exit(0);
  });
}

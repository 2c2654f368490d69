/** One row of the bench: what was measured, the figure to reach, and whether it is. */
export interface BenchRow {
  readonly what: string;
  readonly figure: string;
  readonly wanted: string;
  /** Null where the row only informs. */
  readonly reached: boolean | null;
  /** A time, which also depends on what else the machine does. */
  readonly isTime?: boolean;
}

export function printTable(title: string, rows: readonly BenchRow[]): void {
  const width = (key: 'what' | 'figure' | 'wanted') =>
    Math.max(key.length, ...rows.map((row) => row[key].length));
  const [a, b, c] = [width('what'), width('figure'), width('wanted')];
  process.stdout.write(`\n${title}\n`);
  for (const row of rows) {
    const mark = row.reached === null ? '' : row.reached ? 'reached' : 'NOT REACHED';
    process.stdout.write(
      `  ${row.what.padEnd(a)}  ${row.figure.padEnd(b)}  ${row.wanted.padEnd(c)}  ${mark}\n`,
    );
  }
}

/** Writes `cli/main.js` and what it loads into a folder beside `packages/server/src`. */
export function bundleCommandLine(dist: string): Promise<void>;

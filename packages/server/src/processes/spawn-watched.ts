import { type ChildProcess, spawn } from 'node:child_process';
import type { Writable } from 'node:stream';

/**
 * What the shell does before it becomes the program. A small watcher waits for a line on descriptor 3: it comes
 * when the program has ended. Where that pipe ends without a line, whoever started the program is gone, however
 * that came about, and the program goes too. `$$` stays the number of the process that becomes the program.
 */
const WATCHED = ['{ read -r line <&3 || kill -9 $$; } 3<&3 >/dev/null 2>&1 </dev/null &', 'exec 3<&-'];

export interface WatchedOptions {
  readonly stdin: 'pipe' | 'ignore';
  readonly stdout: 'pipe' | 'ignore';
  readonly stderr: 'pipe' | 'inherit';
  /** Whether messages are exchanged with it, as node's `fork` does. */
  readonly hasMessages?: boolean;
  /** Lines of the shell before the program begins. */
  readonly before?: readonly string[];
  /** How far others on the machine go first, 0–19 (nice(1)). */
  readonly niceness?: number;
}

/** Starts a program that ends with the thread and the process that started it. Arguments are not parsed by a shell. */
export function spawnWatched(
  program: string,
  args: readonly string[],
  { stdin, stdout, stderr, hasMessages = false, before = [], niceness = 0 }: WatchedOptions,
): ChildProcess {
  const script = [...WATCHED, ...before, `exec ${niceness > 0 ? `nice -n ${niceness} ` : ''}"$0" "$@"`].join(
    '\n',
  );
  const child = spawn('sh', ['-c', script, program, ...args], {
    stdio: [stdin, stdout, stderr, 'pipe', ...(hasMessages ? (['ipc'] as const) : [])],
    serialization: 'advanced',
  });
  const watch = child.stdio[3] as Writable;
  watch.on('error', () => {});
  child.on('exit', () => watch.end('ended\n'));
  return child;
}

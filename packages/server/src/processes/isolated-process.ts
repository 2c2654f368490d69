import type { ChildProcess } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { UserError } from '@muted-pond/core/errors';
import PQueue from 'p-queue';
import type { ProcessReply } from './serve-requests.js';
import { spawnWatched } from './spawn-watched.js';
import { THREAD_ARGV } from './thread-files.js';

/** Heap of one process, MiB. */
const MOST_HEAP_MIB = 768;
/** All memory of one process, bytes. */
const MOST_MEMORY_BYTES = 2 * 1024 ** 3;
/** How often memory is looked at, ms. */
const LOOK_EVERY_MS = 100;
/** A process that had nothing to do for so long ends, ms. */
const IDLE_MS = 5 * 60_000;
/** Pages of memory, bytes (Linux on the processors that Node runs on). */
const PAGE_BYTES = 4096;

export interface IsolatedOptions {
  /** What the file that is read is called, for messages. */
  readonly name: string;
  readonly timeLimitMs: number;
}

/**
 * Runs third-party parsers over untrusted files in child processes: a file that crashes its parser, takes too
 * long or too much memory is refused, and the next file gets a new process. Processes are started when they
 * are needed and used again.
 */
export class IsolatedProcess<Request, Reply> {
  private queue: PQueue | null = null;
  private readonly idle = new Map<ChildProcess, NodeJS.Timeout>();

  /** @param file calls `serveRequests`; with THREAD_ENDING. */
  constructor(private readonly file: URL) {}

  /** @throws UserError where the file is refused, or has ended its reader. */
  run(request: Request, options: IsolatedOptions): Promise<Reply> {
    this.queue ??= new PQueue({ concurrency: Math.min(2, availableParallelism()) });
    return this.queue.add(() => this.runNow(request, options)) as Promise<Reply>;
  }

  /** Starts a process before it is needed. */
  warm(): void {
    if (this.idle.size === 0) this.keep(this.start());
  }

  private async runNow(request: Request, options: IsolatedOptions): Promise<Reply> {
    const child = this.take();
    const asking = new AbortController();
    try {
      const reply = await ask<Reply>(child, request, options, asking.signal);
      if (reply.type === 'done') return reply.value;
      if (reply.type === 'refused') throw new UserError(reply.code, reply.message);
      throw new Error(`The process that reads files: ${reply.stack}`);
    } finally {
      asking.abort();
      if (isAlive(child)) this.keep(child);
    }
  }

  private take(): ChildProcess {
    for (const [child, ending] of this.idle) {
      clearTimeout(ending);
      this.idle.delete(child);
      if (isAlive(child)) return child;
    }
    return this.start();
  }

  private keep(child: ChildProcess): void {
    const ending = setTimeout(() => {
      this.idle.delete(child);
      child.disconnect();
    }, IDLE_MS);
    ending.unref();
    this.idle.set(child, ending);
  }

  private start(): ChildProcess {
    const child = spawnWatched(
      process.execPath,
      [...THREAD_ARGV, `--max-old-space-size=${MOST_HEAP_MIB}`, fileURLToPath(this.file)],
      // Small requests keep their priority; the reader still makes progress on a busy machine.
      { stdin: 'ignore', stdout: 'ignore', stderr: 'pipe', hasMessages: true, niceness: 5 },
    );
    // The output of a crash is dropped: the file is refused with a sentence.
    child.stderr?.resume();
    child.on('error', () => {});
    // It does not keep this process from ending.
    child.unref();
    child.channel?.unref();
    for (const stream of child.stdio) (stream as { unref?: () => void } | null)?.unref?.();
    return child;
  }
}

/**
 * Asks a process and watches over it until the signal is aborted.
 * @throws UserError where it ends, takes too long or too much memory; it is ended then.
 */
function ask<Reply>(
  child: ChildProcess,
  request: unknown,
  { name, timeLimitMs }: IsolatedOptions,
  signal: AbortSignal,
): Promise<ProcessReply<Reply>> {
  return new Promise((resolve, reject) => {
    const refuse = (why: string) => {
      child.kill('SIGKILL');
      reject(new UserError('decoder_failed', `“${name}” ${why}`));
    };
    const onReply = (message: unknown) => resolve(message as ProcessReply<Reply>);
    const onExit = () => refuse('could not be read: reading it ended the reader.');
    const late = setTimeout(
      () => refuse(`took longer than ${Math.round(timeLimitMs / 1000)} s to read. Make it simpler.`),
      timeLimitMs,
    );
    const looking = setInterval(async () => {
      if ((await memoryOf(child)) > MOST_MEMORY_BYTES) {
        refuse('takes more memory to read than there is for it. Make a smaller version of it.');
      }
    }, LOOK_EVERY_MS);
    signal.addEventListener('abort', () => {
      clearTimeout(late);
      clearInterval(looking);
      child.off('message', onReply).off('exit', onExit);
    });
    child.on('message', onReply).on('exit', onExit);
    child.send(request as object, (error) => {
      if (error) onExit();
    });
  });
}

function isAlive({ connected, killed, exitCode, signalCode }: ChildProcess): boolean {
  return connected && !killed && exitCode === null && signalCode === null;
}

/** Resident bytes of a process; 0 where the system does not say (proc(5), statm). */
async function memoryOf({ pid }: ChildProcess): Promise<number> {
  const text = await readFile(`/proc/${pid}/statm`, 'latin1').catch(() => '');
  return Number(text.split(' ')[1] ?? 0) * PAGE_BYTES;
}

import { UserError, type UserErrorCode } from '@muted-pond/core/errors';

/** What a process that reads strange files answers. */
export type ProcessReply<Reply> =
  | { readonly type: 'done'; readonly value: Reply }
  /** A failure that a person can be told of. */
  | { readonly type: 'refused'; readonly code: UserErrorCode; readonly message: string }
  | { readonly type: 'broken'; readonly stack: string };

/** Answers requests one after the other, until the parent disconnects. */
export function serveRequests<Request, Reply>(handle: (request: Request) => Promise<Reply>): void {
  process.on('message', (request: Request) => {
    void handle(request)
      .then((value): ProcessReply<Reply> => ({ type: 'done', value }), failureOf)
      .then((reply) => process.send?.(reply));
  });
  process.on('disconnect', () => process.exit(0));
}

function failureOf(error: unknown): ProcessReply<never> {
  if (error instanceof UserError) return { type: 'refused', code: error.code, message: error.message };
  return { type: 'broken', stack: error instanceof Error ? String(error.stack) : String(error) };
}

import { UserError, type UserErrorCode } from '@muted-pond/core/errors';

/** What a person is told over HTTP, as problem details (RFC 9457). */
export class Problem extends UserError {
  override readonly name = 'Problem';

  /**
   * @param code stable, for programs.
   * @param message a sentence: what is wrong with which thing, and what to do.
   */
  constructor(
    readonly status: number,
    code: UserErrorCode,
    message: string,
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(code, message);
  }
}

export function notFound(what: string): Problem {
  return new Problem(404, 'not_found', `This ${what} is not here any more. Go back to the shelf.`);
}

import { UserError, WENT_WRONG } from '@muted-pond/core/errors';
import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Response } from 'express';
import { diskFull, isDiskFull } from '../disk-full.js';
import { errorText } from './error-text.js';
import { Problem } from './problem.js';

/** Codes of faults outside of the server: the client is told, and nothing is logged. */
const TOLD = ['closing', 'disk_full'];

/** Every error leaves as application/problem+json (RFC 9457) with a title a person can act on. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('problem');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const problem = toProblem(error);
    if (problem.status >= 500 && !TOLD.includes(problem.code)) {
      this.log.error(errorText(error));
    }
    if (response.headersSent) {
      response.destroy();
      return;
    }
    sendProblem(response, problem);
  }
}

/**
 * Never kept by a browser: what is answered next time may be another. (RFC 9111 lets 404 and 410 be kept
 * unless this is said.)
 */
export function sendProblem(response: Response, problem: Problem): void {
  response
    .status(problem.status)
    .set('Cache-Control', 'no-store')
    .type('application/problem+json')
    .send({
      type: 'about:blank',
      status: problem.status,
      code: problem.code,
      title: problem.message,
      ...problem.more,
    });
}

export function toProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (isDiskFull(error)) return new Problem(507, 'disk_full', diskFull().message);
  if (error instanceof UserError) return new Problem(422, error.code, error.message);
  if (isBrokenOff(error)) {
    return new Problem(400, 'broken_off', 'The upload broke off. Bring the file in again.');
  }
  if (error instanceof HttpException) {
    const body = error.getResponse();
    const detail = typeof body === 'object' && 'message' in body ? body.message : error.message;
    const sentence = Array.isArray(detail) ? detail.join('; ') : String(detail);
    return new Problem(error.getStatus(), 'request_refused', sentence);
  }
  return new Problem(500, 'internal', WENT_WRONG);
}

/** What a person is told of an error; what nobody foresaw goes to the log with its stack. */
export function problemSentence(error: unknown, log: Logger): string {
  const { code, message } = toProblem(error);
  if (code === 'internal') log.error(errorText(error));
  return message;
}

/** The sender has disconnected: no fault of the server. */
function isBrokenOff(error: unknown): boolean {
  const { code, message } = (error ?? {}) as { code?: string; message?: string };
  return code === 'ERR_STREAM_PREMATURE_CLOSE' || code === 'ECONNRESET' || message === 'aborted';
}

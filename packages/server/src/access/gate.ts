import { parse } from 'cookie';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import { Problem, sendProblem } from '../problems/index.js';
import { type AccessRules, isApiPath, refusalOf } from './rules.js';
import { COOKIE, isToken, TOKEN_PAGE } from './token.js';

/** A year, ms. */
const COOKIE_MS = 31_536_000_000;

/** The practice host is on this machine too, at whichever port was free: its pictures are shown in its list. */
const PRACTICE_HOST = 'http://localhost:*';

/**
 * Nothing from elsewhere, no script in a page, and nobody frames it. Kernels are WebAssembly; the component
 * library sets styles.
 */
export const securityHeaders = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'blob:', 'data:', PRACTICE_HOST],
      // What a page will show is looked at in a frame that may reach nothing: it carries its files inside.
      mediaSrc: ["'self'", 'blob:', 'data:', PRACTICE_HOST],
      workerSrc: ["'self'"],
      connectSrc: ["'self'"],
      objectSrc: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
      frameAncestors: ["'none'"],
    },
  },
  crossOriginResourcePolicy: { policy: 'same-origin' },
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  referrerPolicy: { policy: 'same-origin' },
  // It is served without encryption, on this machine.
  strictTransportSecurity: false,
  xFrameOptions: { action: 'deny' },
});

/**
 * Lets in only what comes from the interface itself, and where the server is opened to a network, only who
 * has the token.
 */
export function accessGate(rules: AccessRules): RequestHandler {
  return (request, response, next) => {
    const refusal = refusalOf(
      {
        method: request.method,
        path: request.path,
        host: request.headers.host,
        origin: request.headers.origin,
        site: headerOf(request, 'sec-fetch-site'),
        dest: headerOf(request, 'sec-fetch-dest'),
        contentType: request.headers['content-type'],
        hasBody: Number(request.headers['content-length'] ?? 0) > 0 || 'transfer-encoding' in request.headers,
      },
      rules,
    );
    if (refusal) sendProblem(response, refusal);
    else if (rules.token === null) next();
    else askForToken(rules.token, request, response, next);
  };
}

function askForToken(token: string, request: Request, response: Response, next: NextFunction): void {
  if (isToken(parse(request.headers.cookie ?? '')[COOKIE], token)) {
    next();
    return;
  }
  const shown = new URLSearchParams(request.url.split('?')[1] ?? '').get('token') ?? undefined;
  if (request.method === 'GET' && isToken(shown, token)) {
    response.cookie(COOKIE, token, { maxAge: COOKIE_MS, httpOnly: true, sameSite: 'strict' });
    // Two slashes would name another host.
    response.redirect(303, request.path.replace(/^[/\\]+/, '/'));
    return;
  }
  if (isApiPath(request.path)) {
    sendProblem(
      response,
      new Problem(401, 'no_token', 'Open the address with the token that was printed at the start.'),
    );
    return;
  }
  response.status(401).type('html').send(TOKEN_PAGE);
}

function headerOf(request: Request, name: string): string | undefined {
  const value = request.headers[name];
  return Array.isArray(value) ? value[0] : value;
}

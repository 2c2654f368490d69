import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';

export const COOKIE = 'muted_pond';

/** The token of a data folder: made once, readable by its owner only. */
export function readToken(path: string): string {
  if (existsSync(path)) {
    const token = readFileSync(path, 'utf8').trim();
    if (/^[0-9a-f]{32}$/.test(token)) return token;
  }
  const token = randomBytes(16).toString('hex');
  writeFileSync(path, `${token}\n`, { mode: 0o600 });
  chmodSync(path, 0o600);
  return token;
}

/** Compares in constant time. */
export function isToken(shown: string | undefined, token: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(shown ?? ''), digest(token));
}

/** A page that asks for the token, without a script. */
export const TOKEN_PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><title>Muted Pond</title>
<form method="get" action="/"><h1>Muted Pond</h1>
<p>This pond is opened to a network. Give the token that was printed when it was started.</p>
<label>Token <input name="token" autocomplete="off" autofocus></label> <button>Open</button></form></html>`;

import { hostname, networkInterfaces } from 'node:os';
import { Problem } from '../problems/index.js';

/** Who may talk to the server. */
export interface AccessRules {
  /** Names and addresses by which it may be reached, lower case, without a port. */
  readonly names: ReadonlySet<string>;
  /** The token that a browser must have sent once; null where only this machine can reach the server. */
  readonly token: string | null;
}

/**
 * Whether the router takes a path for the HTTP API: it compares without case, and a slash at the end changes
 * nothing.
 */
export function isApiPath(path: string): boolean {
  return /^\/api(\/|$)/i.test(path);
}

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];
const EVERYWHERE = ['0.0.0.0', '::'];

/** @param host where the server is opened to a network on purpose; empty for this machine only. */
export function accessRules(host: string, token: string | null): AccessRules {
  return { names: new Set([...LOOPBACK, ...(host ? namesOf(host) : [])]), token: host ? token : null };
}

/** Opened everywhere, it answers to this machine's own name and addresses, and still to no other name. */
function namesOf(host: string): string[] {
  if (!EVERYWHERE.includes(host)) return [bracketed(host.toLowerCase())];
  const addresses = Object.values(networkInterfaces()).flatMap((all) => all ?? []);
  const own = hostname().toLowerCase();
  return [own, `${own}.local`, ...addresses.map(({ address }) => bracketed(address.toLowerCase()))];
}

function bracketed(address: string): string {
  return address.includes(':') ? `[${address.split('%')[0]}]` : address;
}

/** What of a request says where it comes from. */
export interface Approach {
  readonly method: string;
  /** Without the query. */
  readonly path: string;
  readonly host?: string;
  readonly origin?: string;
  /** Fetch Metadata (W3C): Sec-Fetch-Site and Sec-Fetch-Dest. */
  readonly site?: string;
  readonly dest?: string;
  readonly contentType?: string;
  readonly hasBody: boolean;
}

/** Types that no form can send, so that a page elsewhere would have to ask first, and is refused. */
const BODY_TYPES = ['application/json', 'application/octet-stream', 'application/offset+octet-stream'];

/**
 * Why a request is refused; null where it is let in. A page elsewhere may neither change nor read anything,
 * nor find out what there is; only following a link to the interface is allowed.
 */
export function refusalOf(approach: Approach, { names }: AccessRules): Problem | null {
  const { method, path, host = '', origin, site, dest, contentType, hasBody } = approach;
  const name = nameOf(host);
  if (name === null || !names.has(name)) {
    return new Problem(
      421,
      'unknown_host',
      'Muted Pond does not answer to this name. Open it at the address that it printed when it was started.',
    );
  }
  const isLink = method === 'GET' && dest === 'document' && !isApiPath(path);
  const isOwnSite = site === undefined || site === 'same-origin' || site === 'none';
  const isOwnOrigin = origin === undefined || isSameOrigin(origin, host);
  if ((!isOwnSite && !isLink) || !isOwnOrigin) {
    return new Problem(403, 'foreign_page', 'Another page asked for this. Only Muted Pond’s own pages may.');
  }
  if (hasBody && !BODY_TYPES.includes(mimeOf(contentType))) {
    return new Problem(
      415,
      'wrong_type',
      `What is sent must say its type: ${BODY_TYPES[0]} for settings, ${BODY_TYPES[1]} for files.`,
    );
  }
  return null;
}

/** The name in a Host header, without its port; null where it is none. */
function nameOf(host: string): string | null {
  return /^(\[[0-9a-f:.]+\]|[a-z0-9.-]+)(:\d{1,5})?$/.exec(host.toLowerCase())?.[1] ?? null;
}

/** The scheme is whatever a proxy in front makes of it. */
function isSameOrigin(origin: string, host: string): boolean {
  return (
    /^https?:\/\//.test(origin) && origin.replace(/^https?:\/\//, '').toLowerCase() === host.toLowerCase()
  );
}

function mimeOf(contentType = ''): string {
  return contentType.split(';')[0].trim().toLowerCase();
}

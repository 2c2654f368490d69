#!/usr/bin/env node
// `npm run licences`: the packages that run with the application and their licences, from what is installed;
// no registry is asked.
// Ends with 1 where a licence would bind the whole of it (strong copyleft), or is unknown.
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
/** Entries of the lock file that run; kept in sight, so that growth is noticed. */
const MOST_PACKAGES = 380;
/** The whole of a work that links these comes under their terms. */
const STRONG = /\b(A?GPL|SSPL|OSL|EUPL|CPAL)/i;
/** The library stays apart: these bind only changes to it. */
const WEAK = /LGPL|MPL/i;

/** Packages that name their licence only in their Readme, which was read. */
const READ = { 'combine-errors': 'MIT' };

const lock = JSON.parse(readFileSync(join(ROOT, 'package-lock.json'), 'utf8'));
const rows = [];
for (const [path, entry] of Object.entries(lock.packages)) {
  if (!path.startsWith('node_modules/') || entry.dev || entry.link) continue;
  const file = join(ROOT, path, 'package.json');
  // Of the binaries for many systems only one is installed; its twins have the same licence.
  const installed = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
  if (!installed && !entry.optional) continue;
  rows.push({ name: path.replace(/^.*node_modules\//, ''), licence: licenceOf(installed ?? entry) });
}

function licenceOf({ name, license, licenses }) {
  if (READ[name]) return READ[name];
  if (typeof license === 'string') return license;
  if (license?.type) return license.type;
  return Array.isArray(licenses) ? licenses.map((one) => one.type ?? one).join(' OR ') : 'unknown';
}

/** Of a choice, the mildest counts. */
function binds(licence) {
  return licence.split(/\s+OR\s+/i).every((choice) => STRONG.test(choice) && !WEAK.test(choice));
}

const counts = new Map();
for (const { licence } of rows) counts.set(licence, (counts.get(licence) ?? 0) + 1);
for (const [licence, count] of [...counts].sort((a, b) => b[1] - a[1])) {
  process.stdout.write(`${String(count).padStart(5)}  ${licence}\n`);
}
const bad = rows.filter(({ licence }) => licence === 'unknown' || binds(licence));
for (const { name, licence } of bad) process.stderr.write(`${name}: ${licence}\n`);
process.stdout.write(`${rows.length} packages run with the application, ${bad.length} that may not\n`);
if (rows.length > MOST_PACKAGES) {
  process.stderr.write(`More than ${MOST_PACKAGES} packages: look whether all of them are needed.\n`);
}
process.exitCode = bad.length > 0 || rows.length > MOST_PACKAGES ? 1 : 0;

#!/usr/bin/env node
// `npm run licences [-- --write]`: the packages that run with the application and their licences, from what is
// installed; no registry is asked. Ends with 1 where a licence would bind the whole of it (strong copyleft), or is
// unknown, or where docs/THIRD-PARTY-NOTICES.txt does not name a package; `--write` writes that file anew.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { licenceText, noticesOf } from './notices.mjs';

const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
/** Entries of the lock file that run; kept in sight, so that growth is noticed. */
const MOST_PACKAGES = 380;
/** The whole of a work that links these comes under their terms. */
const STRONG = /\b(A?GPL|SSPL|OSL|EUPL|CPAL)/i;
/** The library stays apart: these bind only changes to it. */
const WEAK = /LGPL|MPL/i;

/** Packages that name their licence only in their Readme, which was read. */
const READ = { 'combine-errors': 'MIT' };

/** What is bundled into the interface though nothing of it runs: fonts. */
const BUNDLED = /^node_modules\/@expo-google-fonts\//;
const NOTICES = join(ROOT, 'docs/THIRD-PARTY-NOTICES.txt');
const FONTS = join(ROOT, 'packages/core/fonts');

const lock = JSON.parse(readFileSync(join(ROOT, 'package-lock.json'), 'utf8'));
const rows = [];
for (const [path, entry] of Object.entries(lock.packages)) {
  if (!path.startsWith('node_modules/') || entry.link || (entry.dev && !BUNDLED.test(path))) continue;
  const file = join(ROOT, path, 'package.json');
  // Of the binaries for many systems only one is installed; its twins have the same licence.
  const installed = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
  if (!installed && !entry.optional) continue;
  rows.push({
    name: path.replace(/^.*node_modules\//, ''),
    version: entry.version,
    licence: licenceOf(installed ?? entry),
    text: installed ? licenceText(join(ROOT, path)) : null,
  });
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
const fonts = readdirSync(FONTS)
  .filter((file) => file.endsWith('.licence.txt'))
  .map((file) => ({
    ...{ name: `font “${file.replace('.licence.txt', '')}”`, version: '', licence: 'OFL-1.1' },
    text: readFileSync(join(FONTS, file), 'utf8'),
  }));
if (process.argv.includes('--write')) writeFileSync(NOTICES, noticesOf([...rows, ...fonts]));
const notices = existsSync(NOTICES) ? readFileSync(NOTICES, 'utf8').split('\n') : [];
const unnamed = rows.filter(({ name, version }) => !notices.includes(`${name} ${version}`));
for (const { name, version } of unnamed) {
  process.stderr.write(
    `${name} ${version} is not in docs/THIRD-PARTY-NOTICES.txt: npm run licences -- --write\n`,
  );
}
process.exitCode = bad.length > 0 || unnamed.length > 0 || rows.length > MOST_PACKAGES ? 1 : 0;

// The text of docs/THIRD-PARTY-NOTICES.txt: every package that runs with the application, its copyright lines and
// its licence, each licence text once.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const LICENCE_FILE = /^(licen[cs]e|copying|ofl)(?!.*\.(?:js|ts|json)$)/i;
const COPYRIGHT = /^\W*(copyright|\(c\)|©)/i;

/** The licence of a package as it lies in its folder; null where it has none there. */
export function licenceText(folder) {
  const [file] = readdirSync(folder).filter((name) => LICENCE_FILE.test(name));
  return file ? readFileSync(join(folder, file), 'utf8').trim() : null;
}

/**
 * Lays packages whose licences differ in their copyright lines only together.
 * @param packages each `{ name, version, licence, text }`; the text may be null.
 */
export function noticesOf(packages) {
  const byText = new Map();
  for (const one of [...packages].sort((a, b) => a.name.localeCompare(b.name, 'en'))) {
    const lines = (one.text ?? '').split(/\r?\n/).map((line) => line.trim());
    const body = lines
      .filter((line) => !COPYRIGHT.test(line))
      .join('\n')
      .replace(/\n{3,}/g, '\n\n')
      .trim();
    const key = body.replace(/[\s"'*]+/g, ' ').toLowerCase() || one.licence;
    const group = byText.get(key) ?? { licence: one.licence, body, members: [] };
    group.members.push({ ...one, copyright: lines.filter((line) => COPYRIGHT.test(line)) });
    byText.set(key, group);
  }
  const parts = [...byText.values()].map(({ licence, body, members }) => {
    const named = members.flatMap(({ name, version, copyright }) => [
      `${name} ${version}`,
      ...copyright.map((line) => `    ${line}`),
    ]);
    return [...named, '', body || `${licence}; the package brings no text of it.`].join('\n');
  });
  return `${['Muted Pond runs with the packages and fonts named here, under the licences below them.', ...parts].join(`\n\n${'-'.repeat(72)}\n\n`)}\n`;
}

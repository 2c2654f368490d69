import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { licenceText, noticesOf } from './notices.mjs';

const mit = (holder: string) =>
  `MIT License\n\nCopyright (c) 2024 ${holder}\n\nPermission is hereby granted.`;
const one = (name: string, text: string | null, licence = 'MIT') => ({
  name,
  version: '1.0.0',
  licence,
  text,
});

it('a licence stands once for all packages that differ in their copyright lines only', () => {
  const text = noticesOf([one('willow', mit('Ada')), one('alder', mit('Ben').replaceAll('\n', '\r\n'))]);
  expect(text.match(/Permission is hereby granted/g)).toHaveLength(1);
  const order = [
    'alder 1.0.0',
    'Copyright (c) 2024 Ben',
    'willow 1.0.0',
    'Copyright (c) 2024 Ada',
    'Permission',
  ];
  const places = order.map((words) => text.indexOf(words));
  expect(places).toEqual([...places].sort((a, b) => a - b));
  expect(places[0]).toBeGreaterThan(0);
});

it('other words are another licence, and a package without a text is named with its licence', () => {
  const text = noticesOf([
    one('reed', mit('Ada')),
    one('sedge', 'Do as you like.'),
    one('rush', null, 'ISC'),
  ]);
  expect(text).toContain('Do as you like.');
  expect(text).toContain('rush 1.0.0\n\nISC; the package brings no text of it.');
});

it('the text of a package is read from its own file, not from code of that name', () => {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-licence-'));
  try {
    expect(licenceText(folder)).toBeNull();
    writeFileSync(join(folder, 'licenses.js'), 'export {};');
    expect(licenceText(folder)).toBeNull();
    writeFileSync(join(folder, 'LICENCE.md'), '\nMine.\n');
    expect(licenceText(folder)).toBe('Mine.');
  } finally {
    rmSync(folder, { recursive: true });
  }
});

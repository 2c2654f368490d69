// Makes the fonts that captions are set in: `node tools/make-fonts.mjs FOLDER`, where FOLDER has the packages named
// below under node_modules, `subset-font` and `fontkit`. Large fonts are cut down to the characters of everyday writing.
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const folder = resolve(process.argv[2] ?? '.');
const require = createRequire(join(folder, 'package.json'));
const subsetFont = require('subset-font');
const fontkit = require('fontkit');
const out = join(root, 'packages/core/fonts');

const range = (from, to) =>
  String.fromCodePoint(...Array.from({ length: to - from + 1 }, (_, i) => from + i));

/** All two-byte characters of some rows of an older national character set. */
function rows(encoding, from, to) {
  const decoder = new TextDecoder(encoding);
  let all = '';
  for (let row = from; row <= to; row++) {
    for (let cell = 0xa1; cell <= 0xfe; cell++) all += decoder.decode(new Uint8Array([row, cell]));
  }
  return all.replaceAll('\ufffd', '');
}

const LATIN = `${range(0x20, 0x7e)}${range(0xa0, 0x17f)}${range(0x2010, 0x2027)}€™…−×÷←↑→↓`;
const WEST = `${LATIN}${range(0x370, 0x3ff)}${range(0x400, 0x4ff)}`;
const PUNCTUATION = range(0x3000, 0x301c) + range(0xff01, 0xff5e);

/** The package, the file in it without its ending, and the characters that are kept; all where none are given. */
const FONTS = {
  'clear-sans': ['instrument-sans', '600SemiBold/InstrumentSans_600SemiBold', null],
  'round-head': ['bricolage-grotesque', '700Bold/BricolageGrotesque_700Bold', null],
  'heavy-narrow': ['anton', '400Regular/Anton_400Regular', null],
  'book-serif': ['lora', '600SemiBold/Lora_600SemiBold', null],
  'pen-hand': ['caveat', '700Bold/Caveat_700Bold', null],
  'even-mono': ['jetbrains-mono', '500Medium/JetBrainsMono_500Medium', WEST],
  western: ['noto-sans', '600SemiBold/NotoSans_600SemiBold', WEST],
  arabic: ['noto-sans-arabic', '600SemiBold/NotoSansArabic_600SemiBold', null],
  hebrew: ['noto-sans-hebrew', '600SemiBold/NotoSansHebrew_600SemiBold', null],
  devanagari: ['noto-sans-devanagari', '600SemiBold/NotoSansDevanagari_600SemiBold', null],
  thai: ['noto-sans-thai', '600SemiBold/NotoSansThai_600SemiBold', null],
  // GB 2312, level 1.
  chinese: [
    'noto-sans-sc',
    '600SemiBold/NotoSansSC_600SemiBold',
    LATIN + PUNCTUATION + rows('gbk', 0xb0, 0xd7),
  ],
  // JIS X 0208: kana, and level 1 of the characters.
  japanese: [
    'noto-sans-jp',
    '600SemiBold/NotoSansJP_600SemiBold',
    LATIN + PUNCTUATION + rows('euc-jp', 0xa1, 0xa5) + rows('euc-jp', 0xb0, 0xcf),
  ],
  // KS X 1001.
  korean: [
    'noto-sans-kr',
    '600SemiBold/NotoSansKR_600SemiBold',
    LATIN + PUNCTUATION + range(0x3131, 0x3163) + rows('euc-kr', 0xb0, 0xc8),
  ],
  emoji: ['noto-emoji', '600SemiBold/NotoEmoji_600SemiBold', null],
};

const faces = [];
mkdirSync(out, { recursive: true });
for (const [name, [font, file, characters]] of Object.entries(FONTS)) {
  const source = join(folder, 'node_modules/@expo-google-fonts', font);
  const bytes = readFileSync(join(source, `${file}.ttf`));
  const kept = characters ? await subsetFont(bytes, characters, { targetFormat: 'truetype' }) : bytes;
  writeFileSync(join(out, `${name}.ttf`), kept);
  copyFileSync(join(source, 'LICENSE_FONT'), join(out, `${name}.licence.txt`));
  const made = fontkit.create(Buffer.from(kept));
  const family = made.getName('preferredFamily') ?? made.familyName;
  faces.push({
    id: name,
    family,
    runs: runsOf(made.characterSet.filter((character) => character !== 0xffff)),
  });
  console.log(name, `${Math.round(kept.length / 1024)} KB`);
}
writeFileSync(join(out, 'faces.json'), `${JSON.stringify(faces)}\n`);

/** First and last of each run of characters. */
function runsOf(characters) {
  const runs = [];
  for (const character of characters.toSorted((one, other) => one - other)) {
    if (runs.length > 0 && runs[runs.length - 1] >= character - 1) runs[runs.length - 1] = character;
    else runs.push(character, character);
  }
  return runs;
}

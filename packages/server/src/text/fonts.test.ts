import { readFile } from 'node:fs/promises';
import { chooseFonts, FONT_IDS, FONTS, type FontFace, hasCharacter } from '@muted-pond/core/dress';
import { UserError } from '@muted-pond/core/errors';
import { describe, expect, it } from 'vitest';
import { isShippedFont, readFace, shippedFaces, shippedFontPath } from './fonts.js';

/**
 * The characters that a font file has a shape for, read from its own table.
 * (OpenType 1.9, "cmap", formats 4 and 12.)
 */
function charactersIn(file: Buffer): Set<number> {
  const found = new Set<number>();
  const cmap = tableAt(file, 'cmap');
  for (let i = 0; i < file.readUInt16BE(cmap + 2); i++) {
    const at = cmap + file.readUInt32BE(cmap + 4 + i * 8 + 4);
    const format = file.readUInt16BE(at);
    if (format === 12) addGroups(file, at, found);
    else if (format === 4) addSegments(file, at, found);
  }
  return found;
}

function tableAt(file: Buffer, name: string): number {
  for (let i = 0; i < file.readUInt16BE(4); i++) {
    const at = 12 + i * 16;
    if (file.toString('latin1', at, at + 4) === name) return file.readUInt32BE(at + 8);
  }
  throw new Error(`No table ${name}.`);
}

function addGroups(file: Buffer, at: number, found: Set<number>): void {
  for (let i = 0; i < file.readUInt32BE(at + 12); i++) {
    const group = at + 16 + i * 12;
    const [first, last, glyph] = [0, 4, 8].map((offset) => file.readUInt32BE(group + offset));
    for (let character = first; character <= last; character++) {
      if (glyph + character - first > 0) found.add(character);
    }
  }
}

function addSegments(file: Buffer, at: number, found: Set<number>): void {
  const size = file.readUInt16BE(at + 6);
  const [ends, starts, deltas, offsets] = [14, 16 + size, 16 + 2 * size, 16 + 3 * size];
  for (let i = 0; i < size; i += 2) {
    const delta = file.readUInt16BE(at + deltas + i);
    const offset = file.readUInt16BE(at + offsets + i);
    const first = file.readUInt16BE(at + starts + i);
    for (let character = first; character <= file.readUInt16BE(at + ends + i); character++) {
      if (character === 0xffff) continue;
      const within =
        offset === 0 ? 0 : file.readUInt16BE(at + offsets + i + offset + (character - first) * 2);
      if (offset !== 0 && within === 0) continue;
      if (((offset === 0 ? character : within) + delta) % 0x10000 > 0) found.add(character);
    }
  }
}

/** Every character of a face, one by one. */
function* charactersOf({ runs }: FontFace): Generator<number> {
  for (let i = 0; i < runs.length; i += 2) {
    for (let character = runs[i]; character <= runs[i + 1]; character++) yield character;
  }
}

/** The same sentence, as those who read it write it. */
const SENTENCES = {
  English: 'Please wait – the tea is “ready” in 4 minutes…',
  French: 'Où êtes-vous, chère amie ? Le thé est prêt ; ça coûte 3 €.',
  Polish: 'Proszę czekać, herbata będzie gotowa za chwilę. Żółć, łąka, źdźbło.',
  Greek: 'Παρακαλώ περιμένετε, το τσάι είναι έτοιμο.',
  Russian: 'Пожалуйста, подождите: чай ещё не готов.',
  Arabic: 'من فضلك انتظر، الشاي جاهز',
  Hebrew: 'נא להמתין, התה מוכן',
  Hindi: 'कृपया प्रतीक्षा करें, चाय तैयार है',
  Thai: 'กรุณารอสักครู่ ชาพร้อมแล้ว',
  Chinese: '请稍等,茶马上就好。',
  Japanese: 'お待ちください。お茶ができました。',
  Korean: '잠시만 기다려 주세요. 차가 준비되었습니다.',
  Signs: 'Tea 🍵 is ready 🎉',
};

describe('the fonts that ship', () => {
  it('are those of the list, in its order', async () => {
    const faces = await shippedFaces();
    expect(faces.map(({ id }) => id)).toEqual(FONT_IDS);
    expect(new Set(faces.map(({ family }) => family)).size).toBe(faces.length);
  });

  it.each(FONT_IDS)(
    'have, by the file itself, the very characters that are told of them (%s)',
    async (id) => {
      const face = (await shippedFaces()).find((one) => one.id === id) as FontFace;
      const inFile = charactersIn(await readFile(shippedFontPath(id)));
      expect(inFile.size).toBeGreaterThan(50);
      expect([...charactersOf(face)].filter((character) => !inFile.has(character))).toEqual([]);
      expect([...inFile].filter((character) => !hasCharacter(face, character))).toEqual([]);
    },
  );

  it.each(FONT_IDS)('come with their licence and words of what they are for (%s)', async (id) => {
    const licence = await readFile(shippedFontPath(id).replace('.ttf', '.licence.txt'), 'utf8');
    expect(licence).toMatch(/SIL OPEN FONT LICENSE|Apache License/i);
    expect(FONTS[id].label.length).toBeGreaterThan(0);
    expect(FONTS[id].about.length).toBeGreaterThan(0);
  });

  it.each(Object.entries(SENTENCES))('write %s whole, whichever font is asked for', async (_, text) => {
    const faces = await shippedFaces();
    for (const id of FONT_IDS) expect(chooseFonts(text, id, faces).missing).toEqual([]);
  });

  it('write a text in one font where that has it all', async () => {
    const faces = await shippedFaces();
    const ids = (text: string, wanted: string) => chooseFonts(text, wanted, faces).faces.map(({ id }) => id);
    expect(ids('Ready in 4 minutes', 'pen-hand')).toEqual(['pen-hand']);
    expect(ids('Чай готов', 'book-serif')).toEqual(['book-serif']);
    expect(ids('Tea 茶', 'clear-sans')).toEqual(['clear-sans', 'chinese']);
  });

  it('are known by their names alone', () => {
    expect(isShippedFont('thai')).toBe(true);
    for (const id of ['', 'Thai', 'toString', '../thai', 'thai.ttf']) expect(isShippedFont(id)).toBe(false);
  });
});

describe('a font of one’s own', () => {
  it('is called what its file says, and has what the file has', async () => {
    const file = await readFile(shippedFontPath('hebrew'));
    const face = await readFace('a'.repeat(64), file);
    expect(face.id).toBe('a'.repeat(64));
    expect(new Set(charactersOf(face))).toEqual(charactersIn(file));
    const byPath = await readFace('b'.repeat(64), shippedFontPath('hebrew'));
    expect({ ...byPath, id: face.id }).toEqual(face);
  });

  it.each([
    ['nothing at all', new Uint8Array()],
    ['a text', Buffer.from('not a font, however it is called')],
    ['the head of a font without its tables', Buffer.from([0, 1, 0, 0, 0, 9, 0, 128, 0, 3, 0, 16])],
  ])('is refused in words where the file is %s', async (_, bytes) => {
    await expect(readFace('c'.repeat(64), bytes)).rejects.toBeInstanceOf(UserError);
  });

  it('is refused where the file was cut short', async () => {
    const file = await readFile(shippedFontPath('thai'));
    await expect(readFace('d'.repeat(64), file.subarray(0, 40))).rejects.toBeInstanceOf(UserError);
  });
});

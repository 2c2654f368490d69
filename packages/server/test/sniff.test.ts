import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { kindOf } from '../src/media/sniff.js';

const latin1 = (text: string) => Buffer.from(text, 'latin1');
/** An ISO file type box: the major brand, and one compatible with it. */
const ftyp = (brand: string) => latin1(`\0\0\0\x14ftyp${brand}\0\0\0\0${brand}\0\0\0\x08mdat`);

function chunk(type: string, data: Buffer): Buffer {
  const length = Buffer.alloc(4);
  length.writeUInt32BE(data.length);
  // Nobody checks the sum here.
  return Buffer.concat([length, latin1(type), data, Buffer.alloc(4)]);
}
const png = (...chunks: Buffer[]) => Buffer.concat([latin1('\x89PNG\r\n\x1a\n'), ...chunks]);
const HEADER = chunk('IHDR', Buffer.from('0000000100000001080200000000', 'hex').subarray(0, 13));
const PIXELS = chunk('IDAT', deflateSync(Buffer.alloc(4)));
const ANIMATED = chunk('acTL', Buffer.alloc(8));

const picture = (background: string) =>
  sharp({ create: { width: 8, height: 8, channels: 3, background } })
    .png()
    .toBuffer();

let made: Record<string, Buffer>;
beforeAll(async () => {
  const still = sharp({ create: { width: 8, height: 8, channels: 3, background: '#246' } });
  made = {
    jpeg: await still.jpeg().toBuffer(),
    png: await still.png().toBuffer(),
    tiff: await still.tiff().toBuffer(),
    webp: await still.webp().toBuffer(),
    gif: await still.gif().toBuffer(),
    avif: await still.avif().toBuffer(),
    animated: await sharp([await picture('#246'), await picture('#a62')], { join: { animated: true } })
      .webp()
      .toBuffer(),
  };
});

describe('what a file is, by its content', () => {
  it('is a picture for every format of pictures that encoders write', async () => {
    for (const format of ['jpeg', 'png', 'tiff', 'webp', 'avif']) {
      expect(await kindOf(made[format]), format).toBe('picture');
    }
    expect(await kindOf(made.gif)).toBe('gif');
    expect(await kindOf(latin1('GIF87a\x01\0\x01\0\0\0\0'))).toBe('gif');
  });

  it('tells animations from stills of the same format', async () => {
    expect(await kindOf(png(HEADER, ANIMATED, PIXELS))).toBe('apng');
    // After the first pixels it says nothing any more.
    expect(await kindOf(png(HEADER, PIXELS, ANIMATED))).toBe('picture');
    expect(await kindOf(made.animated)).toBe('webp-animation');
    expect(await kindOf(ftyp('avis'))).toBe('video');
    expect(await kindOf(ftyp('msf1'))).toBe('video');
    expect(await kindOf(ftyp('mif1'))).toBe('picture');
  });

  it('is a drawing whatever stands before its root, and footage where nothing else is known', async () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg"/>';
    const doctype = '<!DOCTYPE svg [<!ENTITY a "b">]>';
    for (const head of ['', '\ufeff', '<?xml version="1.0"?>\n', `<!-- made -->${doctype}\n`]) {
      expect(await kindOf(Buffer.from(head + svg)), head).toBe('drawing');
    }
    expect(await kindOf(Buffer.from('<p>No svg here.</p>'))).toBe('video');
    expect(await kindOf(ftyp('isom'))).toBe('video');
    expect(await kindOf(Buffer.from('plain words'))).toBe('video');
    expect(await kindOf(Buffer.alloc(0))).toBe('empty');
  });

  it('is answered for damaged and cut heads too (1500 mutants, seeded)', async () => {
    const random = seeded(12);
    const kinds = ['video', 'apng', 'gif', 'webp-animation', 'picture', 'drawing', 'empty'];
    const heads = [...Object.values(made), png(HEADER, ANIMATED, PIXELS), ftyp('avif'), ftyp('isom')];
    for (let i = 0; i < 1500; i++) {
      const head = Buffer.from(heads[i % heads.length]);
      for (let k = wholeFrom(random, 0, 6); k > 0; k--) {
        head[wholeFrom(random, 0, Math.min(head.length, 64) - 1)] = wholeFrom(random, 0, 255);
      }
      const cut = random() < 0.3 ? head.subarray(0, wholeFrom(random, 0, head.length)) : head;
      expect(kinds, cut.subarray(0, 64).toString('hex')).toContain(await kindOf(cut));
    }
  });
});

import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame, placePicture, type Turn } from '../pixels/index.js';
import { type Framing, WHOLE_PICTURE } from '../recipe/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { composedSize, createCompose, decodeSize } from './index.js';

const at = (frame: PixelFrame, x: number, y: number) => [
  ...frame.rgba.subarray((y * frame.width + x) * 4, (y * frame.width + x) * 4 + 4),
];

function compose(picture: PixelFrame, framing: Partial<Framing>, width = 1920): PixelFrame {
  const whole = { ...WHOLE_PICTURE, ...framing };
  const size = composedSize(picture, whole, width);
  return createCompose(picture, {
    canvas: picture,
    placement: { x: 0, y: 0, width: picture.width, height: picture.height },
    matte: 'transparent',
    framing: whole,
    size,
  })(picture);
}

describe('crop, turn and mirror', () => {
  it('at full size are the very pixels, wherever they lie (seed 21)', () => {
    const random = seeded(21);
    const picture = noiseFrame(37, 23, random);
    for (let round = 0; round < 40; round++) {
      const width = wholeFrom(random, 16, 37);
      const height = wholeFrom(random, 1, 23);
      const crop = {
        x: wholeFrom(random, 0, 37 - width),
        y: wholeFrom(random, 0, 23 - height),
        width,
        height,
      };
      const turn = ([0, 90, 180, 270] as Turn[])[wholeFrom(random, 0, 3)];
      const mirror = random() < 0.5;
      const out = compose(picture, { crop, turn, mirror });
      expect([out.width, out.height]).toEqual(turn % 180 === 0 ? [width, height] : [height, width]);
      for (let probe = 0; probe < 12; probe++) {
        const x = wholeFrom(random, 0, width - 1);
        const y = wholeFrom(random, 0, height - 1);
        // Where the pixel of the crop goes: turned clockwise, then mirrored.
        const [tx, ty] = {
          0: [x, y],
          90: [height - 1 - y, x],
          180: [width - 1 - x, height - 1 - y],
          270: [y, width - 1 - x],
        }[turn];
        expect(at(out, mirror ? out.width - 1 - tx : tx, ty)).toEqual(at(picture, crop.x + x, crop.y + y));
      }
    }
  });

  it('made smaller are what the crop alone made smaller is, but for its edges', () => {
    const picture = noiseFrame(96, 64, seeded(5));
    const crop = { x: 24, y: 16, width: 64, height: 32 };
    const cut = createFrame(64, 32);
    for (let y = 0; y < 32; y++)
      for (let x = 0; x < 64; x++) cut.rgba.set(at(picture, 24 + x, 16 + y), (y * 64 + x) * 4);
    const cropped = compose(picture, { crop }, 16);
    const alone = compose(cut, {}, 16);
    expect([cropped.width, cropped.height]).toEqual([16, 8]);
    for (let y = 2; y < 6; y++)
      for (let x = 2; x < 14; x++) expect(at(cropped, x, y)).toEqual(at(alone, x, y));
  });
});

describe('a picture in a box', () => {
  const picture = createFrame(80, 20);
  for (let i = 0; i < picture.rgba.length; i += 4)
    picture.rgba.set([i % 320 < 160 ? 250 : 10, 60, 60, 255], i);

  it('is whole, with the matte beside it', () => {
    const out = compose(picture, { box: { width: 40, height: 40, fit: 'contain', matte: '#123456' } });
    expect([out.width, out.height]).toEqual([40, 40]);
    expect(at(out, 20, 14)).toEqual([0x12, 0x34, 0x56, 255]);
    expect(at(out, 20, 25)).toEqual([0x12, 0x34, 0x56, 255]);
    expect(at(out, 5, 20)).toEqual([250, 60, 60, 255]);
    expect(at(out, 35, 20)).toEqual([10, 60, 60, 255]);
  });

  it('fills it with its middle, or is pulled to its shape', () => {
    const covered = compose(picture, { box: { width: 20, height: 20, fit: 'cover', matte: '#000000' } });
    expect([at(covered, 5, 10), at(covered, 14, 10)]).toEqual([
      [250, 60, 60, 255],
      [10, 60, 60, 255],
    ]);
    const stretched = compose(picture, { box: { width: 20, height: 40, fit: 'stretch', matte: '#000000' } });
    expect([stretched.width, stretched.height]).toEqual([20, 40]);
    expect([at(stretched, 2, 2), at(stretched, 17, 38)]).toEqual([
      [250, 60, 60, 255],
      [10, 60, 60, 255],
    ]);
  });

  it('turned, lies in the box as it then stands', () => {
    const out = compose(picture, {
      turn: 90,
      box: { width: 40, height: 40, fit: 'contain', matte: '#ffffff' },
    });
    expect(at(out, 14, 20)).toEqual([255, 255, 255, 255]);
    expect(at(out, 20, 4)).toEqual([250, 60, 60, 255]);
    expect(at(out, 20, 36)).toEqual([10, 60, 60, 255]);
  });
});

describe('stills on a canvas', () => {
  const canvas = { width: 60, height: 30 };
  const red = createFrame(10, 10);
  for (let i = 0; i < red.rgba.length; i += 4) red.rgba.set([200, 0, 0, 255], i);
  const lay = (
    fit: 'contain' | 'cover' | 'stretch',
    focus: { x: number; y: number },
    framing = WHOLE_PICTURE,
  ) =>
    createCompose(red, {
      canvas,
      placement: placePicture(red, canvas, fit, focus),
      matte: '#00ff00',
      framing,
      size: composedSize(canvas, framing, 1920),
    })(red);

  it('lie where the rule and the focus say', () => {
    const left = lay('contain', { x: 0, y: 0.5 });
    expect([at(left, 2, 15), at(left, 31, 15)]).toEqual([
      [200, 0, 0, 255],
      [0, 255, 0, 255],
    ]);
    const right = lay('contain', { x: 1, y: 0.5 });
    expect([at(right, 2, 15), at(right, 58, 15)]).toEqual([
      [0, 255, 0, 255],
      [200, 0, 0, 255],
    ]);
    for (const fit of ['cover', 'stretch'] as const)
      expect(at(lay(fit, { x: 0, y: 0 }), 59, 29)).toEqual([200, 0, 0, 255]);
  });

  it('may be cropped where no picture lies', () => {
    const framing = { ...WHOLE_PICTURE, crop: { x: 40, y: 0, width: 20, height: 20 } };
    const out = lay('contain', { x: 0, y: 0 }, framing);
    expect([out.width, out.height, ...at(out, 10, 10)]).toEqual([20, 20, 0, 255, 0, 255]);
  });

  it('show the matte through what is half seen', () => {
    const half = createFrame(60, 30);
    for (let i = 0; i < half.rgba.length; i += 4) half.rgba.set([255, 255, 255, 128], i);
    const out = createCompose(half, {
      canvas,
      placement: { x: 0, y: 0, ...canvas },
      matte: '#000000',
      framing: WHOLE_PICTURE,
      size: canvas,
    })(half);
    // Half of the light, not half of the number.
    expect(at(out, 30, 15)).toEqual([188, 188, 188, 255]);
  });
});

describe('how large a picture is decoded', () => {
  const size = (picture: { width: number; height: number }, width: number, framing = WHOLE_PICTURE) =>
    decodeSize(picture, {
      canvas: picture,
      placement: { x: 0, y: 0, ...picture },
      matte: 'transparent',
      framing,
      size: composedSize(picture, framing, width),
    });

  it('as it is, unless far more pixels would be read than are drawn', () => {
    expect(size({ width: 1280, height: 720 }, 480)).toEqual({ width: 1280, height: 720 });
    expect(size({ width: 3840, height: 2160 }, 480)).toEqual({ width: 768, height: 432 });
    const crop = { x: 100, y: 100, width: 700, height: 700 };
    expect(size({ width: 3840, height: 2160 }, 480, { ...WHOLE_PICTURE, crop })).toEqual({
      width: 3840,
      height: 2160,
    });
  });
});

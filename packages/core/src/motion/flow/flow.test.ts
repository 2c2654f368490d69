import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../../../tools/make-kernel.mjs';
import { seeded } from '../../testing/seeded.js';
import type { LumaPicture } from '../luma-picture.js';
import { FLOW_KERNEL } from './flow-kernel.js';
import { createFlowFinder, type FlowField, flowPicture, warpByFlow } from './index.js';

const SIZE = { width: 200, height: 150 };
type Place = readonly [x: number, y: number];
type Texture = (x: number, y: number) => number;

/** A texture with something to see at every scale, smooth between pixels. */
function textured(seed: number): Texture {
  const random = seeded(seed);
  const waves = Array.from({ length: 40 }, (_, i) => {
    const length = 6 * 1.09 ** i;
    const turn = random() * 2 * Math.PI;
    return {
      x: (2 * Math.PI * Math.cos(turn)) / length,
      y: (2 * Math.PI * Math.sin(turn)) / length,
      phase: random() * 2 * Math.PI,
      size: 8 * (length / 40) ** 0.4,
    };
  });
  return (x, y) =>
    waves.reduce((sum, wave) => sum + wave.size * Math.sin(wave.x * x + wave.y * y + wave.phase), 128);
}

function drawn(valueAt: (x: number, y: number) => number): LumaPicture {
  const values = new Float32Array(SIZE.width * SIZE.height);
  for (let y = 0, p = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++, p++) values[p] = valueAt(x, y);
  }
  return { ...SIZE, values };
}

const flowOf = (a: LumaPicture, b: LumaPicture, near?: FlowField, plain = false) =>
  createFlowFinder(a, plain).between(flowPicture(a), flowPicture(b), near);

/** A movement of the whole picture, and its way back. */
interface Movement {
  readonly to: (x: number, y: number) => Place;
  readonly back: (x: number, y: number) => Place;
}

/** Turned by an angle and enlarged about the middle, then moved. */
function similar(turn: number, zoom: number, dx: number, dy: number): Movement {
  const [cx, cy] = [SIZE.width / 2, SIZE.height / 2];
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return {
    to: (x, y) => [
      cx + zoom * (cos * (x - cx) - sin * (y - cy)) + dx,
      cy + zoom * (sin * (x - cx) + cos * (y - cy)) + dy,
    ],
    back: (x, y) => {
      const [px, py] = [(x - dx - cx) / zoom, (y - dy - cy) / zoom];
      return [cx + cos * px + sin * py, cy - sin * px + cos * py];
    },
  };
}

/** Mean distance to the truth, px, over pixels that both pictures show. */
function endpointError({ u, v }: FlowField, truth: (x: number, y: number) => Place | null): number {
  let [sum, count] = [0, 0];
  for (let y = 0, p = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++, p++) {
      const place = truth(x, y);
      if (!place) continue;
      const [tx, ty] = place;
      if (tx < 0 || ty < 0 || tx > SIZE.width - 1 || ty > SIZE.height - 1) continue;
      sum += Math.hypot(x + u[p] - tx, y + v[p] - ty);
      count++;
    }
  }
  expect(count).toBeGreaterThan(SIZE.width * SIZE.height * 0.5);
  return sum / count;
}

describe('the flow between two pictures', () => {
  it.each([
    ['a small shift', similar(0, 1, 1.4, -0.7)],
    ['a large shift', similar(0, 1, -19.5, 12.25)],
    ['a turn', similar(0.06, 1, 2, 1)],
    ['a zoom', similar(0, 1.07, 0, -1)],
    ['a turn, a zoom and a shift', similar(-0.05, 0.95, 7, 4)],
  ])('is the movement that was drawn: %s', (_, { to, back }) => {
    for (const seed of [1, 2, 3]) {
      const texture = textured(seed);
      const flow = flowOf(
        drawn(texture),
        drawn((x, y) => texture(...back(x, y))),
      );
      expect(endpointError(flow, to), `seed ${seed}`).toBeLessThan(0.3);
    }
  });

  it('takes no change of light for a movement', () => {
    const { to, back } = similar(0, 1, 3.3, -2.1);
    const texture = textured(4);
    const lit = (x: number, y: number) => 1.12 * texture(...back(x, y)) + 6 + (9 * x) / SIZE.width;
    expect(endpointError(flowOf(drawn(texture), drawn(lit)), to)).toBeLessThan(0.3);
  });

  it('follows a thing over a ground that moves another way, where both pictures show it', () => {
    const [ground, thing] = [textured(5), textured(6)];
    const inThing = (x: number, y: number) => Math.hypot(x - 90, y - 75) < 36;
    const [groundBy, thingBy]: [Place, Place] = [
      [-2.5, 1],
      [5.5, -3],
    ];
    const a = drawn((x, y) => (inThing(x, y) ? thing(x, y) : ground(x, y)));
    const b = drawn((x, y) => {
      const [tx, ty] = [x - thingBy[0], y - thingBy[1]];
      return inThing(tx, ty) ? thing(tx, ty) : ground(x - groundBy[0], y - groundBy[1]);
    });
    const truth = (x: number, y: number): Place | null => {
      if (inThing(x, y)) return [x + thingBy[0], y + thingBy[1]];
      const [gx, gy] = [x + groundBy[0], y + groundBy[1]];
      // The thing covers it in the second picture.
      return inThing(gx - thingBy[0], gy - thingBy[1]) ? null : [gx, gy];
    };
    expect(endpointError(flowOf(a, b), truth)).toBeLessThan(0.3);
  });

  it('goes in steps with the distance: parallax is a movement that differs from row to row', () => {
    const texture = textured(7);
    const speed = (y: number) => 1 + (5 * y) / SIZE.height;
    const flow = flowOf(
      drawn(texture),
      drawn((x, y) => texture(x - speed(y), y)),
    );
    expect(endpointError(flow, (x, y) => [x + speed(y), y])).toBeLessThan(0.3);
  });

  it('is nothing between a picture and itself, and of flat pictures', () => {
    const picture = drawn(textured(8));
    const flat = drawn(() => 77);
    for (const [a, b] of [
      [picture, picture],
      [flat, flat],
    ]) {
      const { u, v } = flowOf(a, b);
      expect(Math.max(...u.map(Math.abs), ...v.map(Math.abs))).toBeLessThan(1e-6);
    }
  });

  it('lays the second picture on the first', () => {
    const { back } = similar(0.04, 1.03, 4, -3);
    const texture = textured(9);
    const [a, b] = [drawn(texture), drawn((x, y) => texture(...back(x, y)))];
    const differs = (other: LumaPicture) => {
      let sum = 0;
      for (let y = 20; y < SIZE.height - 20; y++) {
        for (let x = 20; x < SIZE.width - 20; x++) {
          const p = y * SIZE.width + x;
          sum += Math.abs(other.values[p] - a.values[p]);
        }
      }
      return sum / ((SIZE.width - 40) * (SIZE.height - 40));
    };
    expect(differs(b)).toBeGreaterThan(10);
    expect(differs(warpByFlow(b, flowOf(a, b)))).toBeLessThan(0.6);
  });

  it('is found from a field that is near where it would be lost without it', () => {
    // Waves of one length look alike a whole wave further.
    const stripes = (x: number) => 128 + 60 * Math.sin((2 * Math.PI * x) / 24);
    const by = 30;
    const near: FlowField = {
      ...SIZE,
      u: new Float32Array(SIZE.width * SIZE.height).fill(by - 0.8),
      v: new Float32Array(SIZE.width * SIZE.height),
    };
    const [a, b] = [drawn(stripes), drawn((x) => stripes(x - by))];
    const truth = (x: number, y: number): Place => [x + by, y];
    expect(endpointError(flowOf(a, b), truth)).toBeGreaterThan(10);
    expect(endpointError(flowOf(a, b, near), truth)).toBeLessThan(0.5);
  });

  it('has a field for every size, down to one pixel', () => {
    for (const size of [
      { width: 1, height: 1 },
      { width: 2, height: 7 },
      { width: 9, height: 3 },
      { width: 16, height: 16 },
      { width: 61, height: 8 },
    ]) {
      const random = seeded(size.width);
      const picture = () => ({
        ...size,
        values: Float32Array.from({ length: size.width * size.height }, () => 255 * random()),
      });
      const { u, v, width, height } = flowOf(picture(), picture());
      expect({ width, height }).toEqual(size);
      expect([...u, ...v].every(Number.isFinite), `${size.width} × ${size.height}`).toBe(true);
    }
  });

  it('is the same by the kernel and without it, to the bit, whenever it is looked for', () => {
    for (const size of [
      SIZE,
      { width: 83, height: 47 },
      { width: 33, height: 10 },
      { width: 5, height: 4 },
    ]) {
      const random = seeded(size.height);
      const picture = (shift: number) => ({
        ...size,
        values: Float32Array.from({ length: size.width * size.height }, (_, p) => {
          const [x, y] = [(p % size.width) - shift, Math.floor(p / size.width)];
          return 120 + 60 * Math.sin(x / 5 + Math.cos(y / 4)) + 12 * random();
        }),
      });
      const [a, b, c] = [picture(0), picture(2.5), picture(4)].map(flowPicture);
      const [fast, plain] = [createFlowFinder(size), createFlowFinder(size, true)];
      const once = fast.between(a, b);
      expect(plain.between(a, b), `${size.width} × ${size.height}`).toEqual(once);
      // What is left in the memory of another pair changes nothing.
      expect(fast.between(b, c, once)).toEqual(plain.between(b, c, once));
      expect(fast.between(a, b)).toEqual(once);
    }
  });

  it('refuses pictures of another size than it was made for', () => {
    const [a, b] = [drawn(textured(1)), drawn(textured(2))].map(flowPicture);
    expect(() => createFlowFinder({ width: 10, height: 10 }).between(a, b)).toThrow('10 × 10 px');
  });
});

describe('the kernel', () => {
  it('is what its source compiles to', () => {
    expect(Buffer.from(FLOW_KERNEL, 'base64').equals(compileKernel('flow'))).toBe(true);
  });
});

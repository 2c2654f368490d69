import { UserError } from '../errors/index.js';
import { evenKnots } from './colour-table.js';
import type { Colour, ColourFunction } from './grade.js';

/** Nodes a side of three-dimensional tables that are read. */
export const CUBE_SIZES = { min: 17, max: 65 } as const;
/** Entries of one-dimensional tables that are read. */
const LINE_SIZES = { min: 2, max: 65536 } as const;
/** A 65³ table with six decimals takes 8 MB. */
export const MOST_CUBE_BYTES = 24 * 1024 ** 2;
/** Values beyond this are not colours. */
const LARGEST_VALUE = 1000;

/** A table of colours as it stands in a .cube file. */
export interface Cube {
  readonly title: string | null;
  readonly dimensions: 1 | 3;
  readonly size: number;
  /** What the first and the last node of each channel stand for. */
  readonly domain: { readonly min: readonly number[]; readonly max: readonly number[] };
  /** Red, green and blue for each entry; of three dimensions, red runs fastest. */
  readonly values: Float32Array;
}

/**
 * Reads a table in the plain-text .cube form.
 * Source: "Cube LUT Specification 1.0" (2013).
 * @throws UserError naming the line and what is wrong there.
 */
export function readCube(text: string): Cube {
  if (text.length > MOST_CUBE_BYTES) {
    throw wrong(
      `is ${Math.round(text.length / 1024 ** 2)} MB large; ${MOST_CUBE_BYTES / 1024 ** 2} MB is the most`,
    );
  }
  let title: string | null = null;
  let shape: { readonly dimensions: 1 | 3; readonly size: number } | null = null;
  const domain = { min: [0, 0, 0], max: [1, 1, 1] };
  let values: Float32Array | null = null;
  let filled = 0;
  let number = 0;
  for (const raw of linesOf(text)) {
    number++;
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) continue;
    const at = (what: string) => wrong(`${what} in line ${number}`);
    const [keyword] = line.split(/\s/, 1);
    if (!/^[A-Z]/i.test(keyword) || /^(nan|inf)/i.test(keyword)) {
      if (!shape) throw at('has colours before it says how many there are (LUT_3D_SIZE or LUT_1D_SIZE)');
      values ??= new Float32Array(countOf(shape) * 3);
      if (filled === values.length) throw at(`has more colours than the ${countOf(shape)} it speaks of,`);
      values.set(threeNumbers(line, at), filled);
      filled += 3;
      continue;
    }
    const rest = line.slice(keyword.length).trim();
    switch (keyword.toUpperCase()) {
      case 'TITLE':
        title = rest.replace(/^"|"$/g, '').slice(0, 120) || null;
        break;
      case 'LUT_3D_SIZE':
      case 'LUT_1D_SIZE': {
        if (shape) throw at('gives its size a second time');
        const dimensions = keyword.toUpperCase() === 'LUT_3D_SIZE' ? 3 : 1;
        const { min, max } = dimensions === 3 ? CUBE_SIZES : LINE_SIZES;
        const size = /^\d+$/.test(rest) ? Number(rest) : Number.NaN;
        if (!(size >= min && size <= max)) {
          throw at(`has a size of “${rest.slice(0, 20)}”; ${min} to ${max} can be read;`);
        }
        shape = { dimensions, size };
        break;
      }
      case 'DOMAIN_MIN':
        domain.min = threeNumbers(rest, at);
        break;
      case 'DOMAIN_MAX':
        domain.max = threeNumbers(rest, at);
        break;
      case 'LUT_3D_INPUT_RANGE':
      case 'LUT_1D_INPUT_RANGE': {
        const [low, high] = rest.split(/\s+/).map(Number);
        if (!Number.isFinite(low) || !Number.isFinite(high)) throw at('has a range that is not two numbers');
        domain.min = [low, low, low];
        domain.max = [high, high, high];
        break;
      }
      default:
        throw at(`has the unknown word “${keyword.slice(0, 30)}”`);
    }
  }
  if (!shape) throw wrong('does not say how large it is (LUT_3D_SIZE or LUT_1D_SIZE)');
  if (!values || filled < values.length) {
    throw wrong(`ends after ${filled / 3} of its ${countOf(shape)} colours`);
  }
  if (domain.min.some((low, c) => !(domain.max[c] > low)))
    throw wrong('has a domain whose end is not above its start');
  return { title, ...shape, domain, values };
}

function wrong(what: string): UserError {
  return new UserError(
    'bad_colour_table',
    `The colour table ${what}. Save it anew as a .cube file of 17 to 65 steps.`,
  );
}

function countOf({ dimensions, size }: { dimensions: 1 | 3; size: number }): number {
  return dimensions === 3 ? size ** 3 : size;
}

function threeNumbers(text: string, at: (what: string) => Error): number[] {
  const numbers = text.split(/\s+/).map((word) => (word === '' ? Number.NaN : Number(word)));
  const areColours = numbers.every((value) => Math.abs(value) <= LARGEST_VALUE);
  if (numbers.length !== 3 || !areColours)
    throw at(`has “${text.slice(0, 40)}”, which is not three numbers,`);
  return numbers;
}

/** One after the other, without a list of them all. */
function* linesOf(text: string): Generator<string> {
  let from = text.charCodeAt(0) === 0xfeff ? 1 : 0;
  while (from < text.length) {
    const end = text.indexOf('\n', from);
    if (end < 0) {
      yield text.slice(from);
      return;
    }
    yield text.slice(from, end);
    from = end + 1;
  }
}

/** A table as a function of single colours: tetrahedral of three dimensions, linear of one. */
export function cubeFunction(cube: Cube): ColourFunction {
  const { size, domain, values } = cube;
  const place = (value: number, c: number) => {
    const along = (value - domain.min[c]) / (domain.max[c] - domain.min[c]);
    return Math.max(0, Math.min(1, along)) * (size - 1);
  };
  return cube.dimensions === 1 ? lineFunction(values, size, place) : volumeFunction(values, size, place);
}

type Place = (value: number, channel: number) => number;

function lineFunction(values: Float32Array, size: number, place: Place): ColourFunction {
  return (colour) => {
    for (let c = 0; c < 3; c++) {
      const at = place(colour[c], c);
      const before = Math.min(size - 2, Math.floor(at));
      const [one, other] = [values[before * 3 + c], values[before * 3 + 3 + c]];
      colour[c] = one + (other - one) * (at - before);
    }
  };
}

function volumeFunction(values: Float32Array, size: number, place: Place): ColourFunction {
  const strides = [3, 3 * size, 3 * size * size];
  return (colour: Colour) => {
    let corner = 0;
    const along = [0, 1, 2].map((c) => {
      const at = place(colour[c], c);
      const before = Math.min(size - 2, Math.floor(at));
      corner += before * strides[c];
      return { fraction: at - before, stride: strides[c] };
    });
    along.sort((one, other) => other.fraction - one.fraction);
    for (let c = 0; c < 3; c++) colour[c] = values[corner + c];
    for (const { fraction, stride } of along) {
      const next = corner + stride;
      for (let c = 0; c < 3; c++) colour[c] += (values[next + c] - values[corner + c]) * fraction;
      corner = next;
    }
  };
}

/** The nodes that a folded table should have so that it keeps this one exactly. */
export function knotsOf({ dimensions, size }: Cube): Float64Array | null {
  return dimensions === 3 ? evenKnots(size) : null;
}

/** Nodes a side of tables that are written. */
const WRITTEN_SIZE = 33;

/** A function of single colours as a .cube file. @param title without quotation marks. */
export function writeCube(change: ColourFunction, title: string): string {
  const lines = [
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_3D_SIZE ${WRITTEN_SIZE}`,
    'DOMAIN_MIN 0.0 0.0 0.0',
    'DOMAIN_MAX 1.0 1.0 1.0',
  ];
  const colour = new Float64Array(3);
  const last = WRITTEN_SIZE - 1;
  for (let b = 0; b <= last; b++) {
    for (let g = 0; g <= last; g++) {
      for (let r = 0; r <= last; r++) {
        colour.set([r / last, g / last, b / last]);
        change(colour);
        lines.push([...colour].map((value) => Math.max(0, Math.min(1, value)).toFixed(6)).join(' '));
      }
    }
  }
  return `${lines.join('\n')}\n`;
}

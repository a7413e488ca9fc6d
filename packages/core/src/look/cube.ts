/** Lookup tables as files: `.cube`, one- and three-dimensional (docs/formats/cube.md). */
import { vec3, type Vec3 } from '../geometry/rotation.js';
import type { ColourMap } from './grade.js';
import { tetrahedral, type Lattice } from './tetrahedral.js';
import { ToldError } from '../boundary/told-error.js';

export interface Cube {
  title: string;
  /** A curve for each channel, or one lattice for all three. */
  kind: '1D' | '3D';
  size: number;
  /** Inputs of R', G' and B' between which it holds. */
  least: Vec3;
  most: Vec3;
  /** Three numbers a row, red running fastest. */
  values: Float32Array;
}

/** What is wrong with a file, in one sentence for whoever gave it. */
export class CubeError extends ToldError {}

/** Most points a side, and of a curve. */
const MOST = { '1D': 65_536, '3D': 129 } as const;
/** Longest file that is read, in characters: a lattice of 129 a side has some 60 million. */
const LONGEST = 100_000_000;
const WORDS = new Set(['TITLE', 'DOMAIN_MIN', 'DOMAIN_MAX', 'LUT_1D_SIZE', 'LUT_3D_SIZE']);
/** Some programs write the domain of all three channels at once. */
const RANGES = new Set(['LUT_1D_INPUT_RANGE', 'LUT_3D_INPUT_RANGE']);

/** Reads a file. Throws CubeError. */
export function readCube(text: string): Cube {
  if (text.length > LONGEST) throw new CubeError('The LUT is longer than any that is sensible; nothing was changed.');
  const cube: Omit<Cube, 'values'> = { title: '', kind: '3D', size: 0, least: [0, 0, 0], most: [1, 1, 1] };
  const rows = new Rows();
  let number = 0;
  for (let at = 0; at <= text.length;) {
    const next = text.indexOf('\n', at);
    const end = next < 0 ? text.length : next;
    // Lines may end with a carriage return alone as well.
    for (const line of text.slice(at, end).replace(/\r$/, '').split('\r')) takeLine(cube, rows, line, ++number);
    at = end + 1;
  }
  const written = rows.written();
  if (!cube.size) throw new CubeError('The LUT does not say how large it is (LUT_1D_SIZE or LUT_3D_SIZE).');
  const wanted = cube.kind === '1D' ? cube.size : cube.size ** 3;
  if (written.length !== 3 * wanted)
    throw new CubeError(
      `The LUT has ${written.length / 3} rows of numbers instead of ${wanted}: it is cut short or mixed up.`,
    );
  if (cube.least.some((v, k) => !(v < cube.most[k]!)))
    throw new CubeError('The LUT’s DOMAIN_MIN is not below its DOMAIN_MAX.');
  return { ...cube, values: written };
}

/** Rows of numbers as they come, however many. */
class Rows {
  private values = new Float32Array(3 * 33 ** 3);
  private length = 0;
  add(row: readonly number[]) {
    if (this.length + 3 > this.values.length) {
      const more = new Float32Array(2 * this.values.length);
      more.set(this.values);
      this.values = more;
    }
    this.values.set(row, this.length);
    this.length += 3;
    if (this.length > 3 * MOST['3D'] ** 3) throw new CubeError('The LUT has more rows of numbers than any can have.');
  }
  written = () => this.values.slice(0, this.length);
}

function takeLine(cube: Omit<Cube, 'values'>, rows: Rows, line: string, number: number) {
  const words = line.trim().split(/\s+/);
  const [word = '', ...rest] = words;
  if (!word || word.startsWith('#')) return;
  if (WORDS.has(word)) setting(cube, word, rest, line, number);
  else if (RANGES.has(word)) {
    const [least, most] = numbers(rest, 2, number);
    cube.least = [least!, least!, least!];
    cube.most = [most!, most!, most!];
  } else if (/^[-+.\d]/.test(word)) rows.add(numbers(words, 3, number));
  else throw new CubeError(`Line ${number} of the LUT says “${word.slice(0, 40)}”, which no LUT says.`);
}

/** Takes one line that is a word with something behind it. */
function setting(cube: Omit<Cube, 'values'>, word: string, rest: string[], line: string, number: number) {
  if (word === 'TITLE') cube.title = line.trim().slice(5).trim().replaceAll('"', '').slice(0, 200);
  else if (word === 'DOMAIN_MIN') cube.least = vec3(numbers(rest, 3, number));
  else if (word === 'DOMAIN_MAX') cube.most = vec3(numbers(rest, 3, number));
  else {
    const kind = word === 'LUT_1D_SIZE' ? '1D' : '3D';
    const [size] = numbers(rest, 1, number);
    if (cube.size) throw new CubeError(`Line ${number} of the LUT gives its size a second time.`);
    if (!Number.isInteger(size) || size! < 2 || size! > MOST[kind])
      throw new CubeError(`Line ${number} of the LUT gives it ${size} steps; 2 to ${MOST[kind]} can be read.`);
    Object.assign(cube, { kind, size });
  }
}

function numbers(words: string[], count: number, line: number): number[] {
  const found = words.map(Number);
  if (
    found.length !== count ||
    words.some((w) => w === '') ||
    !found.every((v) => Number.isFinite(v) && Math.abs(v) < 1e6)
  )
    throw new CubeError(`Line ${line} of the LUT should have ${count} ${count === 1 ? 'number' : 'numbers'}.`);
  return found;
}

/** Writes a file of it. */
export function writeCube({ title, kind, size, least, most, values }: Cube): string {
  const row = (v: ArrayLike<number>, at: number) => [0, 1, 2].map((k) => Number(v[at + k]!.toFixed(6))).join(' ');
  const rows = Array.from({ length: values.length / 3 }, (_, i) => row(values, 3 * i));
  const head = [
    `TITLE "${title.replaceAll('"', '')}"`,
    `LUT_${kind}_SIZE ${size}`,
    `DOMAIN_MIN ${row(least, 0)}`,
    `DOMAIN_MAX ${row(most, 0)}`,
  ];
  return `${[...head, ...rows].join('\n')}\n`;
}

/** A colour map as a lattice of so many steps a side over R'G'B' in 0…1. */
export function cubeOf(title: string, map: ColourMap, size = 33): Cube {
  const values = new Float32Array(3 * size ** 3);
  let at = 0;
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++, at += 3) values.set(map(vec3([r, g, b].map((v) => v / (size - 1)))), at);
  return { title, kind: '3D', size, least: [0, 0, 0], most: [1, 1, 1], values };
}

/** What it makes of colours; `amount` 0…1 of it, and the rest as it was. Outside its domain it is taken at the domain's side. */
export function mapOfCube(cube: Cube, amount = 1): ColourMap {
  const { kind, size, least, most, values } = cube;
  const lattice: Lattice = { steps: size, values };
  return (rgb) => {
    const inputs = vec3(rgb.map((v, k) => Math.max(0, Math.min(1, (v - least[k]!) / (most[k]! - least[k]!)))));
    const out = kind === '3D' ? tetrahedral(lattice, inputs) : vec3(inputs.map((v, k) => onCurve(values, size, k, v)));
    return vec3(out.map((v, k) => rgb[k]! + (v - rgb[k]!) * amount));
  };
}

/** A channel of a curve at an input of 0…1. */
function onCurve(values: Float32Array, size: number, channel: number, input: number): number {
  const place = input * (size - 1);
  const whole = Math.min(size - 2, Math.floor(place));
  const [a, b] = [values[3 * whole + channel]!, values[3 * whole + 3 + channel]!];
  return a + (b - a) * (place - whole);
}

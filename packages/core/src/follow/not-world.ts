/** What in a look is not the still world: what moves, or was not there before. */
import { multiply, type Matrix3 } from '../geometry/rotation.js';
import { EXCESS, type StillWorld } from '../moving/still-world.js';
import { glimpse, glimpseOf, SphereFrame, type Glimpse } from '../frame/sphere-frame.js';

/** Excess in grey levels at which a cell is surely not the world. */
const SURELY = 16;

/** The still world as a frame sees it: the world about then, and what turns directions of the frame's picture into the world's. */
export interface Beside {
  world: SphereFrame;
  /** What is usual, as planes of a frame. */
  usual: SphereFrame;
  toWorld: Matrix3;
}

/** A still world laid ready for frames that are seen beside it. */
export const framesOf = ({
  picture,
  usual,
}: Pick<StillWorld, 'picture' | 'usual'>): Pick<Beside, 'world' | 'usual'> => ({
  world: new SphereFrame(picture),
  usual: new SphereFrame({ ...picture, planes: [usual[0], usual[1], usual[1]] }),
});

/** Looks at a frame beside the still world. */
export class NotWorld {
  private readonly world: Glimpse;
  private readonly usual: Glimpse;
  private readonly raw: Float32Array;
  private readonly least: Float32Array;
  private readonly most: Float32Array;
  private readonly row: Float32Array;

  constructor(private readonly side: number) {
    this.world = glimpseOf(side);
    this.usual = glimpseOf(side);
    [this.raw, this.least, this.most, this.row] = planes(side);
  }

  /** How surely each cell of a look that was taken along `toPicture`, `across` radians wide, is not the still world: 0 to 1. */
  of(look: Glimpse, { world, usual, toWorld }: Beside, toPicture: Matrix3, across: number, out: Float32Array): void {
    const aim = multiply(toWorld, toPicture);
    glimpse(world, aim, across, this.world);
    glimpse(usual, aim, across, this.usual);
    const { side, raw } = this;
    const [luma, blue, red] = look.planes;
    const [still, stillBlue, stillRed] = this.world.planes;
    const [usually, usualTint] = this.usual.planes;
    const light = middleOff(luma, still);
    extremes(still, side, this.least, this.most, this.row);
    for (let i = 0; i < side * side; i++) {
      const value = luma[i]! - light;
      const off = value > this.most[i]! ? value - this.most[i]! : Math.max(0, this.least[i]! - value);
      const tint = Math.abs(blue[i]! - stillBlue[i]!) + Math.abs(red[i]! - stillRed[i]!);
      const byTint = Math.max(0, EXCESS.tint * (tint - EXCESS.usual * usualTint[i]!));
      raw[i] = Math.max(0, Math.min(1, (off + byTint - EXCESS.usual * usually[i]! - EXCESS.noise) / SURELY));
    }
    soften(raw, side, this.row, out);
  }
}

const planes = (side: number) => {
  const plane = () => new Float32Array(side * side);
  return [plane(), plane(), plane(), plane()] as const;
};

/** By how much a look is brighter than the world on the whole: the middle of what it is off, cell by cell. */
function middleOff(luma: Float32Array, still: Float32Array): number {
  const off = new Float32Array(Math.ceil(luma.length / 7));
  for (let k = 0, i = 0; i < luma.length; k++, i += 7) off[k] = luma[i]! - still[i]!;
  return off.sort()[off.length >> 1]!;
}

/** The least and the most of each cell and those about it: along rows first, then along columns; `row` has room for a plane. */
function extremes(cells: Float32Array, side: number, least: Float32Array, most: Float32Array, row: Float32Array) {
  for (const [out, of] of [
    [least, Math.min],
    [most, Math.max],
  ] as const) {
    for (let y = 0, i = 0; y < side; y++)
      for (let x = 0; x < side; x++, i++)
        row[i] = of(cells[x > 0 ? i - 1 : i]!, cells[i]!, cells[x < side - 1 ? i + 1 : i]!);
    for (let y = 0, i = 0; y < side; y++)
      for (let x = 0; x < side; x++, i++)
        out[i] = of(row[y > 0 ? i - side : i]!, row[i]!, row[y < side - 1 ? i + side : i]!);
  }
}

/** The mean of each cell and those about it; `row` has room for a plane. */
function soften(raw: Float32Array, side: number, row: Float32Array, out: Float32Array) {
  const last = side - 1;
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++) row[i] = (x > 0 ? raw[i - 1]! : 0) + raw[i]! + (x < last ? raw[i + 1]! : 0);
  for (let y = 0, i = 0; y < side; y++) {
    const rows = 1 + (y > 0 ? 1 : 0) + (y < last ? 1 : 0);
    for (let x = 0; x < side; x++, i++) {
      const columns = 1 + (x > 0 ? 1 : 0) + (x < last ? 1 : 0);
      const sum = (y > 0 ? row[i - side]! : 0) + row[i]! + (y < last ? row[i + side]! : 0);
      out[i] = sum / (rows * columns);
    }
  }
}

/** A box in cells of a look: its middle from the look's, right and down, and half its sizes. */
export interface CellBox {
  x: number;
  y: number;
  halfX: number;
  halfY: number;
}

/** From which share on a cell belongs to what is not the world. */
const BELONGS = 0.45;
/** Share of the rows' and columns' cells that is left out at each end. */
const OUTLIERS = 0.02;

/**
 * The box of all that is not the world about a box: what hangs together with what is in it. Null where there is little, or where it
 * reaches the look's rim.
 */
export function boxAbout(shares: Float32Array, side: number, { x, y, halfX, halfY }: CellBox): CellBox | null {
  const within: number[] = [];
  const reached = new Uint8Array(side * side);
  const stack: number[] = [];
  for (let v = 0; v < side; v++)
    for (let u = 0; u < side; u++) {
      const [dx, dy] = [(u + 0.5 - side / 2 - x) / halfX, (v + 0.5 - side / 2 - y) / halfY];
      if (Math.max(Math.abs(dx), Math.abs(dy)) < 0.8 && shares[v * side + u]! >= BELONGS) stack.push(v * side + u);
    }
  for (const i of stack) reached[i] = 1;
  while (stack.length > 0) {
    const i = stack.pop()!;
    within.push(i);
    const [u, v] = [i % side, Math.floor(i / side)];
    // Two cells up and down: between coat and shoes there may be a trouser like the ground.
    for (const [du, dv] of [
      [-1, 0],
      [1, 0],
      [0, -1],
      [0, 1],
      [0, -2],
      [0, 2],
    ] as const) {
      const [a, b] = [u + du, v + dv];
      if (a < 0 || b < 0 || a >= side || b >= side) continue;
      const j = b * side + a;
      if (reached[j] || shares[j]! < BELONGS) continue;
      reached[j] = 1;
      stack.push(j);
    }
  }
  if (within.length < 0.15 * 4 * halfX * halfY || within.length < 12) return null;
  const columns = within.map((i) => i % side).sort((a, b) => a - b);
  const rows = within.map((i) => Math.floor(i / side)).sort((a, b) => a - b);
  const skipped = Math.floor(OUTLIERS * within.length);
  const [left, right] = [columns[skipped]!, columns.at(-1 - skipped)! + 1];
  const [top, bottom] = [rows[skipped]!, rows.at(-1 - skipped)! + 1];
  if (left === 0 || top === 0 || right === side || bottom === side) return null;
  return {
    x: (left + right) / 2 - side / 2,
    y: (top + bottom) / 2 - side / 2,
    halfX: (right - left) / 2,
    halfY: (bottom - top) / 2,
  };
}

/** Against its own, how much what a box takes in must look like the subject, and from which share of its cells on that counts. */
const ALIKE = 0.7;
const SOME = 0.02;

/**
 * Whether what a box takes in beyond another is like what that holds, of what is not the world: else it is somebody else, who is near.
 * `likely`: how likely each cell belongs to the subject.
 */
export function takesInItsOwn(shares: Float32Array, likely: Float32Array, side: number, now: CellBox, next: CellBox) {
  const within = (u: number, v: number, { x, y, halfX, halfY }: CellBox) =>
    Math.abs(u + 0.5 - side / 2 - x) < halfX && Math.abs(v + 0.5 - side / 2 - y) < halfY;
  const [own, more] = [
    { sum: 0, count: 0 },
    { sum: 0, count: 0 },
  ];
  for (let v = 0, i = 0; v < side; v++)
    for (let u = 0; u < side; u++, i++) {
      const part = within(u, v, now) ? own : within(u, v, next) ? more : null;
      if (!part || shares[i]! < BELONGS) continue;
      part.sum += likely[i]!;
      part.count++;
    }
  return more.count < SOME * own.count || more.sum / more.count >= (ALIKE * own.sum) / own.count;
}

/** A box's middle as radians to the right and up in a look, and its sizes in radians; `cell` as cellOf gives it. */
export const boxAngles = ({ x, y, halfX, halfY }: CellBox, cell: number) => {
  const far = (cells: number) => 2 * Math.atan((cells * cell) / 2);
  return {
    right: far(x),
    up: -far(y),
    width: far(x + halfX) - far(x - halfX),
    height: far(y + halfY) - far(y - halfY),
  };
};

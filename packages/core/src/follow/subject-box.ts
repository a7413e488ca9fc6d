/** The upright box of a subject in the look at it: its two sizes as angles and in cells, and what of the look is its own. */
import { RADIANS } from '../geometry/rotation.js';
import { cellOf } from '../frame/sphere-frame.js';
import { boxWindow } from './features.js';

/** Cells of a look from side to side, and how many subjects wide it is. */
export const SIDE = 64;
const PADDING = 2.4;
/** How much wider than the subject the look is in which its size is found. */
const FOR_SIZE = 1.3;
/** Half sizes beyond the subject's rim over which what is learned fades out. */
const FADE = 0.6;
/** Radians across the longer side at least and at most. */
const [LEAST, MOST] = [0.5 * RADIANS, 110 * RADIANS];

/** Radians across and up. */
export interface Shape {
  width: number;
  height: number;
}

export class SubjectBox {
  private longer = LEAST;
  /** Cells from the look's middle to the box's sides. */
  half = { x: 0, y: 0 };
  /** What of the look is learned: all of the box, fading out beyond it. */
  window!: Float32Array;

  constructor(shape: Shape) {
    this.resize(shape);
  }

  /** Radians across the longer side. */
  get size(): number {
    return this.longer;
  }

  set size(size: number) {
    this.longer = Math.max(LEAST, Math.min(MOST, size));
  }

  get shape(): Shape {
    const longer = Math.max(this.half.x, this.half.y);
    return { width: (this.longer * this.half.x) / longer, height: (this.longer * this.half.y) / longer };
  }

  /** Sets both sizes. */
  resize({ width, height }: Shape): void {
    const longer = Math.max(width, height);
    this.size = longer;
    const cells = SIDE / PADDING / 2;
    this.half = { x: (cells * width) / longer, y: (cells * height) / longer };
    this.window = boxWindow(SIDE, this.half, FADE);
  }

  /** Cells across a square as large as the box. */
  get cellsAcross(): number {
    return 2 * Math.sqrt(this.half.x * this.half.y);
  }

  /** Radians across the look at it, and across that in which its size is found. */
  get across(): number {
    return this.longer * PADDING;
  }

  get acrossForSize(): number {
    return this.longer * FOR_SIZE;
  }

  /** How a place in cells lies from the look's middle, in radians to the right and up. */
  anglesOf({ x, y }: { x: number; y: number }): { right: number; up: number } {
    const step = cellOf(this.across, SIDE);
    const r = Math.hypot(x, y) * step;
    const angle = 2 * Math.atan(r / 2);
    const k = r > 0 ? (angle * step) / r : 0;
    return { right: x * k, up: -y * k };
  }
}

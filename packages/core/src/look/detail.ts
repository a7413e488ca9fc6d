/**
 * Detail: clarity, which is local contrast, and sharpening, both on the luma of the finished frame in its own pixels. This is what
 * kernel and shader are measured against; they do the same. Luma in codes, rows first.
 */

import { EDGE, MOST_REACH, WINDOW } from './detail-numbers.js';

export interface Sharpen {
  /** Per cent of what is finer than the radius that is added, 0 to 200. */
  amount: number;
  /** Standard deviation of the blur in pixels, 0.3 to 3. */
  radius: number;
  /** Codes below which a difference counts as noise, 0 to 20. */
  threshold: number;
}

export interface Detail {
  /** Per cent of local contrast that is added, −100 (taken away) to 100. */
  clarity?: number;
  sharpen?: Sharpen;
}

export const DETAIL_LIMITS = {
  clarity: { least: -100, most: 100 },
  amount: { least: 0, most: 200 },
  radius: { least: 0.3, most: 3 },
  threshold: { least: 0, most: 20 },
} as const;

export const USUAL_SHARPEN: Sharpen = { amount: 0, radius: 1, threshold: 2 };

/** Whether any of it does something. */
export const doesDetail = ({ clarity = 0, sharpen }: Detail) => clarity !== 0 || (sharpen?.amount ?? 0) > 0;

/**
 * Share of the frame's shorter side over which contrast is local: a guided filter (He, Sun & Tang 2010) on means of cells (He & Sun
 * 2015).
 */
const NEARBY = 0.015;
/** Furthest reach of the blur in standard deviations. */
const REACH = 2.5;

/** Side in pixels of the cells of a frame. */
export const cellOf = ({ width, height }: { width: number; height: number }) =>
  Math.max(1, Math.round((NEARBY * Math.min(width, height)) / WINDOW));

/** Weights of a Gaussian blur from its middle outwards; all of them, both sides, add up to 1. */
export function blurWeights(radius: number): number[] {
  const reach = Math.min(MOST_REACH, Math.ceil(REACH * radius));
  const weights = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-0.5 * (k / radius) ** 2));
  const sum = 2 * weights.reduce((a, b) => a + b) - weights[0]!;
  return weights.map((w) => w / sum);
}

/** Luma with its detail, not yet rounded. */
export function detailed(luma: ArrayLike<number>, width: number, height: number, detail: Detail): Float32Array {
  const { clarity = 0, sharpen } = detail;
  const out = Float32Array.from(luma);
  if (clarity !== 0) {
    const base = smoothBase(luma, width, height);
    for (let i = 0; i < out.length; i++) out[i]! += (clarity / 100) * (luma[i]! - base[i]!);
  }
  if (sharpen && sharpen.amount > 0) {
    const soft = blurred(luma, width, height, blurWeights(sharpen.radius));
    for (let i = 0; i < out.length; i++) {
      const fine = luma[i]! - soft[i]!;
      out[i]! += (sharpen.amount / 100) * Math.sign(fine) * Math.max(0, Math.abs(fine) - sharpen.threshold);
    }
  }
  return out.map((v) => Math.max(1, Math.min(254, v)));
}

/** What is left of luma when what is local is taken away, its edges kept. */
function smoothBase(luma: ArrayLike<number>, width: number, height: number): Float32Array {
  const cell = cellOf({ width, height });
  const [columns, rows] = [Math.ceil(width / cell), Math.ceil(height / cell)];
  const [mean, square, count] = [0, 0, 0].map(() => new Float64Array(columns * rows)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = Math.floor(y / cell) * columns + Math.floor(x / cell);
      const v = luma[y * width + x]!;
      mean[at]! += v;
      square[at]! += v * v;
      count[at]!++;
    }
  for (let i = 0; i < mean.length; i++) {
    mean[i]! /= count[i]!;
    square[i]! /= count[i]!;
  }
  const [m, q] = [boxed(mean, columns, rows), boxed(square, columns, rows)];
  const slope = m.map((v, i) => {
    const variance = Math.max(0, q[i]! - v * v);
    return variance / (variance + EDGE);
  });
  const [a, b] = [
    boxed(slope, columns, rows),
    boxed(
      m.map((v, i) => v * (1 - slope[i]!)),
      columns,
      rows,
    ),
  ];
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (grid: Float64Array) => between(grid, columns, rows, (x + 0.5) / cell - 0.5, (y + 0.5) / cell - 0.5);
      out[y * width + x] = at(a) * luma[y * width + x]! + at(b);
    }
  return out;
}

/** Means over the window about each cell, as far as there are cells. */
function boxed(grid: Float64Array, columns: number, rows: number): Float64Array {
  const along = meansAlong(grid, { length: columns, step: 1, lines: rows, apart: columns });
  return meansAlong(along, { length: rows, step: columns, lines: columns, apart: 1 });
}

interface Lines {
  /** Cells in a line, and how far they are apart in the grid. */
  length: number;
  step: number;
  lines: number;
  apart: number;
}

function meansAlong(grid: Float64Array, { length, step, lines, apart }: Lines): Float64Array {
  const out = new Float64Array(grid.length);
  for (let n = 0; n < lines; n++)
    for (let i = 0; i < length; i++) {
      const [from, to] = [Math.max(0, i - WINDOW), Math.min(length - 1, i + WINDOW)];
      let sum = 0;
      for (let k = from; k <= to; k++) sum += grid[n * apart + k * step]!;
      out[n * apart + i * step] = sum / (to - from + 1);
    }
  return out;
}

function between(grid: Float64Array, columns: number, rows: number, x: number, y: number): number {
  const [px, py] = [Math.max(0, Math.min(columns - 1, x)), Math.max(0, Math.min(rows - 1, y))];
  const [i, j] = [Math.min(columns - 1, Math.floor(px)), Math.min(rows - 1, Math.floor(py))];
  const [k, l] = [Math.min(columns - 1, i + 1), Math.min(rows - 1, j + 1)];
  const across = (row: number) =>
    grid[row * columns + i]! + (grid[row * columns + k]! - grid[row * columns + i]!) * (px - i);
  return across(j) + (across(l) - across(j)) * (py - j);
}

function blurred(luma: ArrayLike<number>, width: number, height: number, weights: readonly number[]): Float32Array {
  const held = (v: number, most: number) => Math.max(0, Math.min(most, v));
  const pass = (from: ArrayLike<number>, place: (x: number, y: number, k: number) => number) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let k = 1 - weights.length; k < weights.length; k++) sum += weights[Math.abs(k)]! * from[place(x, y, k)]!;
        out[y * width + x] = sum;
      }
    return out;
  };
  const down = pass(luma, (x, y, k) => held(y + k, height - 1) * width + x);
  return pass(down, (x, y, k) => y * width + held(x + k, width - 1));
}

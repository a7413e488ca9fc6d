/** Clarity and sharpening on the luma of a drawn frame: what core/look/detail.ts says, row by row. */
import { EDGE, MOST_REACH, WINDOW } from '../../core/src/look/detail-numbers';

@inline
function at(grid: usize, i: i32): usize {
  return grid + (<usize>i << 2);
}

/** Sums over the window along a row of cells. */
function alongRow(from: usize, to: usize, columns: i32): void {
  let sum: f32 = 0;
  for (let x = 0; x < min(columns, WINDOW); x++) sum += load<f32>(at(from, x));
  for (let x = 0; x < columns; x++) {
    if (x + WINDOW < columns) sum += load<f32>(at(from, x + WINDOW));
    if (x > WINDOW) sum -= load<f32>(at(from, x - WINDOW - 1));
    store<f32>(at(to, x), sum);
  }
}

/** Sum over the window down a column of sums, of rows that are there from `first` to `last`. */
@inline
function downColumn(grid: usize, columns: i32, x: i32, first: i32, last: i32): f32 {
  let sum: f32 = 0;
  for (let j = first; j <= last; j++) sum += load<f32>(at(grid, j * columns + x));
  return sum;
}

@inline
function across(x: i32, columns: i32): i32 {
  return min(columns - 1, x + WINDOW) - max(0, x - WINDOW) + 1;
}

/**
 * Of the rows of cells from `first` to `last`, slope and offset of the guided filter, at the beginning of `scratch` one plane behind
 * the other with row `first` first. Gives the bytes of a plane. `planes` of `scratch` hold all rows that count.
 */
function guide(y: usize, stride: i32, width: i32, height: i32, cell: i32, first: i32, last: i32, scratch: usize): usize {
  const columns = (width + cell - 1) / cell;
  const rows = (height + cell - 1) / cell;
  const k0 = max(0, first - 2 * WINDOW);
  const k1 = min(rows - 1, last + 2 * WINDOW);
  const plane = <usize>((last - first + 1 + 4 * WINDOW) * columns) << 2;
  const one = scratch;
  const two = scratch + plane;
  const three = two + plane;
  const four = three + plane;
  for (let j = k0; j <= k1; j++) {
    const lines = min(cell, height - j * cell);
    for (let x = 0; x < columns; x++) {
      const wide = min(cell, width - x * cell);
      let sum = 0;
      let squares = 0;
      for (let l = 0; l < lines; l++) {
        const row = y + <usize>((j * cell + l) * stride + x * cell);
        for (let i = 0; i < wide; i++) {
          const v = <i32>load<u8>(row + <usize>i);
          sum += v;
          squares += v * v;
        }
      }
      const share = <f32>1 / <f32>(lines * wide);
      const place = (j - k0) * columns + x;
      store<f32>(at(one, place), <f32>sum * share);
      store<f32>(at(two, place), <f32>squares * share);
    }
    const begin = (j - k0) * columns;
    alongRow(at(one, begin), at(three, begin), columns);
    alongRow(at(two, begin), at(four, begin), columns);
  }
  const a0 = max(0, first - WINDOW);
  const a1 = min(rows - 1, last + WINDOW);
  for (let j = a0; j <= a1; j++) {
    const top = max(0, j - WINDOW);
    const bottom = min(rows - 1, j + WINDOW);
    for (let x = 0; x < columns; x++) {
      const share = <f32>1 / <f32>((bottom - top + 1) * across(x, columns));
      const mean = downColumn(three, columns, x, top - k0, bottom - k0) * share;
      const square = downColumn(four, columns, x, top - k0, bottom - k0) * share;
      const variance = max(<f32>0, square - mean * mean);
      const slope = variance / (variance + <f32>EDGE);
      const place = (j - k0) * columns + x;
      store<f32>(at(one, place), slope);
      store<f32>(at(two, place), mean * (<f32>1 - slope));
    }
  }
  for (let j = a0; j <= a1; j++) {
    const begin = (j - k0) * columns;
    alongRow(at(one, begin), at(three, begin), columns);
    alongRow(at(two, begin), at(four, begin), columns);
  }
  for (let j = first; j <= last; j++) {
    const top = max(0, j - WINDOW);
    const bottom = min(rows - 1, j + WINDOW);
    for (let x = 0; x < columns; x++) {
      const share = <f32>1 / <f32>((bottom - top + 1) * across(x, columns));
      const place = (j - first) * columns + x;
      store<f32>(at(one, place), downColumn(three, columns, x, top - k0, bottom - k0) * share);
      store<f32>(at(two, place), downColumn(four, columns, x, top - k0, bottom - k0) * share);
    }
  }
  return plane;
}

/** Adds so much of what is local to a row: `out` and `source` of `width` samples, floats and bytes. */
function clarifyRow(
  source: usize, out: usize, width: i32, cell: i32, row: f32, rowsLast: i32, first: i32, slope: usize, offset: usize,
  line: usize, amount: f32,
): void {
  const columns = (width + cell - 1) / cell;
  const place = max(<f32>0, min(<f32>rowsLast, row));
  const j = <i32>place;
  const down = place - <f32>j;
  const upper = (j - first) * columns;
  const lower = (min(rowsLast, j + 1) - first) * columns;
  const offsets = line + (<usize>(columns + 1) << 2);
  for (let x = 0; x < columns; x++) {
    const s = load<f32>(at(slope, upper + x));
    const o = load<f32>(at(offset, upper + x));
    store<f32>(at(line, x), s + (load<f32>(at(slope, lower + x)) - s) * down);
    store<f32>(at(offsets, x), o + (load<f32>(at(offset, lower + x)) - o) * down);
  }
  // From the middle of one cell to that of the next both go straight; beyond the outermost they stay.
  const step = <f32>1 / <f32>cell;
  let x = 0;
  for (let i = -1; i < columns; i++) {
    const end = i == columns - 1 ? width : min(width, <i32>ceil((<f32>i + <f32>1.5) * <f32>cell - <f32>0.5));
    const s = load<f32>(at(line, max(0, i)));
    const o = load<f32>(at(offsets, max(0, i)));
    const ds = load<f32>(at(line, min(columns - 1, i + 1))) - s;
    const dp = load<f32>(at(offsets, min(columns - 1, i + 1))) - o;
    let f = (<f32>x + <f32>0.5) * step - <f32>0.5 - <f32>i;
    for (; x < end; x++) {
      const v = <f32>load<u8>(source + <usize>x);
      store<f32>(at(out, x), load<f32>(at(out, x)) + amount * (v - (s + ds * f) * v - o - dp * f));
      f += step;
    }
  }
}

@inline
function four(row: usize, x: i32): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(row + <usize>x))));
}

/** Adds so much of what is finer than a blur to row `r`. `line` holds a row with MOST_REACH samples beyond each end. */
function sharpenRow(
  y: usize, stride: i32, width: i32, height: i32, r: i32, out: usize, reach: i32, weights: usize, amount: f32,
  threshold: f32, line: usize,
): void {
  const source = y + <usize>(r * stride);
  const middle = at(line, MOST_REACH);
  for (let x = 0; x < width; x += 4) {
    let sum = f32x4.mul(four(source, x), v128.load32_splat(weights));
    for (let k = 1; k <= reach; k++) {
      const above = y + <usize>(max(0, r - k) * stride);
      const below = y + <usize>(min(height - 1, r + k) * stride);
      sum = f32x4.add(sum, f32x4.mul(f32x4.add(four(above, x), four(below, x)), v128.load32_splat(at(weights, k))));
    }
    v128.store(at(middle, x), sum);
  }
  const left = load<f32>(middle);
  const right = load<f32>(at(middle, width - 1));
  for (let k = 1; k <= MOST_REACH; k++) {
    store<f32>(at(middle, -k), left);
    store<f32>(at(middle, width - 1 + k), right);
  }
  const much = f32x4.splat(amount);
  const least = f32x4.splat(threshold);
  const zero = f32x4.splat(0);
  for (let x = 0; x < width; x += 4) {
    let sum = f32x4.mul(v128.load(at(middle, x)), v128.load32_splat(weights));
    for (let k = 1; k <= reach; k++) {
      const sides = f32x4.add(v128.load(at(middle, x - k)), v128.load(at(middle, x + k)));
      sum = f32x4.add(sum, f32x4.mul(sides, v128.load32_splat(at(weights, k))));
    }
    const fine = f32x4.sub(four(source, x), sum);
    // What is below the threshold on either side goes.
    const kept = f32x4.add(f32x4.max(zero, f32x4.sub(fine, least)), f32x4.min(zero, f32x4.add(fine, least)));
    v128.store(at(out, x), f32x4.add(v128.load(at(out, x)), f32x4.mul(kept, much)));
  }
}

/**
 * Rows `from` to `to` of a luma plane with their detail, into another plane. `clarity` and `sharpen` as shares; `reach` and `weights`
 * (floats, the middle one first) are the blur's. `scratch`: room for three rows of `width` + 24 floats and two of the cells', then
 * for four planes of cells, see the host.
 */
export function detailRows(
  y: usize, stride: i32, out: usize, outStride: i32, width: i32, height: i32, from: i32, to: i32, cell: i32, clarity: f32,
  sharpen: f32, reach: i32, weights: usize, threshold: f32, scratch: usize,
): void {
  const room = <usize>(width + 24) << 2;
  const sum = scratch;
  const line = sum + room;
  const cellLines = line + room;
  const grid = cellLines + 2 * room;
  const rows = (height + cell - 1) / cell;
  const step = <f32>1 / <f32>cell;
  const first = max(0, min(rows - 1, <i32>floor((<f32>from + <f32>0.5) * step - <f32>0.5)));
  const last = min(rows - 1, <i32>floor((<f32>to - <f32>0.5) * step - <f32>0.5) + 1);
  const plane = clarity != 0 ? guide(y, stride, width, height, cell, first, last, grid) : <usize>0;
  for (let r = from; r < to; r++) {
    const source = y + <usize>(r * stride);
    for (let x = 0; x < width; x += 4) v128.store(at(sum, x), four(source, x));
    if (clarity != 0)
      clarifyRow(source, sum, width, cell, (<f32>r + <f32>0.5) * step - <f32>0.5, rows - 1, first, grid, grid + plane, cellLines, clarity);
    if (sharpen != 0) sharpenRow(y, stride, width, height, r, sum, reach, weights, sharpen, threshold, line);
    const target = out + <usize>(r * outStride);
    const least = f32x4.splat(1);
    const most = f32x4.splat(254);
    const half = f32x4.splat(0.5);
    const whole = width & ~3;
    for (let x = 0; x < whole; x += 4) {
      const v = i32x4.trunc_sat_f32x4_u(f32x4.add(half, f32x4.min(most, f32x4.max(least, v128.load(at(sum, x))))));
      const short = i16x8.narrow_i32x4_u(v, v);
      store<u32>(target + <usize>x, <u32>i32x4.extract_lane(i8x16.narrow_i16x8_u(short, short), 0));
    }
    for (let x = whole; x < width; x++)
      store<u8>(target + <usize>x, <u8>(max(<f32>1, min(<f32>254, load<f32>(at(sum, x)))) + <f32>0.5));
  }
}

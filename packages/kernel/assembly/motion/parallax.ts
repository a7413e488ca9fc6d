/** What fits neither a rig's travel nor any depth, where the travel is the upper pole and each depth a shift of rows. */

/** Bytes before and after a row that wraps across. */
const PAD: usize = 16;

/** The mean of each four samples of a plane, `width` × `height` of them at `out`. */
export function halfPlane(from: usize, width: i32, height: i32, out: usize): void {
  const wide = <usize>width << 1;
  for (let y = 0; y < height; y++) {
    const row = from + <usize>y * 2 * wide;
    for (let x: usize = 0; x < <usize>width; x += 8) {
      const above = v128.load(row + (x << 1));
      const below = v128.load(row + wide + (x << 1));
      const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(above), i16x8.extadd_pairwise_i8x16_u(below));
      const mean = i16x8.shr_u(i16x8.add(sum, i16x8.splat(2)), 2);
      v128.store64_lane(out + <usize>y * <usize>width + x, i8x16.narrow_i16x8_u(mean, mean), 0);
    }
  }
}

/** A row with what lies beyond its two ends on either side. */
function wrapped(row: usize, width: usize, out: usize): void {
  memory.copy(out + PAD, row, width);
  memory.copy(out, row + width - PAD, PAD);
  memory.copy(out + PAD + width, row, PAD);
}

/**
 * The least and the most of the samples about each of a plane, a row up and down and as many columns to each side as `slack` has for the
 * row (a byte each, at most PAD); `spare` has room for two rows and four times PAD.
 */
export function slackBounds(plane: usize, width: i32, height: i32, slack: usize, least: usize, most: usize, spare: usize): void {
  const wide = <usize>width;
  const low = spare;
  const high = spare + wide + 2 * PAD;
  for (let y = 0; y < height; y++) {
    const to = <usize>y * wide;
    const here = plane + to;
    const above = y > 0 ? here - wide : here;
    const below = y + 1 < height ? here + wide : here;
    for (let x: usize = 0; x < wide; x += 16) {
      const a = v128.load(above + x);
      const b = v128.load(here + x);
      const c = v128.load(below + x);
      v128.store(least + to + x, i8x16.min_u(a, i8x16.min_u(b, c)));
      v128.store(most + to + x, i8x16.max_u(a, i8x16.max_u(b, c)));
    }
    wrapped(least + to, wide, low);
    wrapped(most + to, wide, high);
    const reach = <usize>load<u8>(slack + <usize>y);
    for (let x: usize = 0; x < wide; x += 16) {
      let l = v128.load(low + PAD + x);
      let m = v128.load(high + PAD + x);
      for (let k: usize = 1; k <= reach; k++) {
        l = i8x16.min_u(l, i8x16.min_u(v128.load(low + PAD + x - k), v128.load(low + PAD + x + k)));
        m = i8x16.max_u(m, i8x16.max_u(v128.load(high + PAD + x - k), v128.load(high + PAD + x + k)));
      }
      v128.store(least + to + x, l);
      v128.store(most + to + x, m);
    }
  }
}

/** By how much samples lie outside their bounds. */
@inline
function outside(value: usize, least: usize, most: usize): v128 {
  const v = v128.load(value);
  return v128.or(i8x16.sub_sat_u(v128.load(least), v), i8x16.sub_sat_u(v, v128.load(most)));
}

/**
 * Sums of 5 × 5 samples of what a look is off another moment at one depth, where that is less than what stands in `best` (16 bits a
 * sample). `now`, `least` and `most` are three planes each, luma and two colours of its size; `rows` has a 32-bit row of the other
 * moment for each row. A sample is off by `most_off` at most. `sums` has room for 16 bits a sample, `spare` for a row and twice PAD.
 */
export function fitDepth(
  now: usize, least: usize, most: usize, width: i32, height: i32, rows: usize, mostOff: i32, best: usize, sums: usize,
  spare: usize,
): void {
  const wide = <usize>width;
  const count = wide * <usize>height;
  const limit = i8x16.splat(<i8>mostOff);
  for (let y = 0; y < height; y++) {
    const here = now + <usize>y * wide;
    const there = <usize>load<i32>(rows + (<usize>y << 2)) * wide;
    for (let x: usize = 0; x < wide; x += 16) {
      const luma = outside(here + x, least + there + x, most + there + x);
      const blue = outside(here + count + x, least + count + there + x, most + count + there + x);
      const red = outside(here + 2 * count + x, least + 2 * count + there + x, most + 2 * count + there + x);
      const tint = i8x16.add_sat_u(blue, red);
      // Three quarters of both colours together.
      const less = i8x16.sub_sat_u(tint, i8x16.shr_u(tint, 2));
      v128.store(spare + PAD + x, i8x16.min_u(limit, i8x16.add_sat_u(luma, less)));
    }
    memory.copy(spare, spare + wide, PAD);
    memory.copy(spare + PAD + wide, spare + PAD, PAD);
    const to = sums + <usize>y * wide * 2;
    for (let x: usize = 0; x < wide; x += 8) {
      const at = spare + PAD + x - 2;
      const two = i16x8.add(v128.load8x8_u(at), v128.load8x8_u(at + 1));
      const four = i16x8.add(two, i16x8.add(v128.load8x8_u(at + 2), v128.load8x8_u(at + 3)));
      v128.store(to + 2 * x, i16x8.add(four, v128.load8x8_u(at + 4)));
    }
  }
  const line = wide * 2;
  for (let y = 2; y < height - 2; y++)
    for (let x: usize = 0; x < line; x += 16) {
      const at = <usize>y * line + x;
      const from = sums + at;
      const two = i16x8.add(v128.load(from - 2 * line), v128.load(from - line));
      const four = i16x8.add(two, i16x8.add(v128.load(from), v128.load(from + line)));
      const sum = i16x8.add(four, v128.load(from + 2 * line));
      v128.store(best + at, i16x8.min_u(v128.load(best + at), sum));
    }
}

/** Sums of 25 samples as grey levels: `times` their mean beyond `noise`, 0 in the `blind` rows at either end. */
export function misfit(best: usize, width: i32, height: i32, noise: i32, times: i32, blind: i32, out: usize): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = <usize>(y * width + x);
      const more = (times * (<i32>load<u16>(best + 2 * at) - 25 * noise)) / 25;
      store<u8>(out + at, y < blind || y >= height - blind ? 0 : <u8>max(0, min(255, more)));
    }
}

/** Bicubic samples of one plane, and the mip levels they are taken from. */

/** Writes the weights of 256 sub-pixel phases: for rows (w0 w1 w2 w3 twice), then for columns (each weight twice); 8 KiB. */
export function fillWeights(table: usize): void {
  for (let phase = 0; phase < 256; phase++) {
    const t = (<f64>phase + 0.5) / 256;
    const w0 = <i32>Math.round(16384 * (-0.5 * t + t * t - 0.5 * t * t * t));
    const w1 = <i32>Math.round(16384 * (1 - 2.5 * t * t + 1.5 * t * t * t));
    const w3 = <i32>Math.round(16384 * (-0.5 * t * t + 0.5 * t * t * t));
    const w2 = 16384 - w0 - w1 - w3;
    const row = table + (<usize>phase << 4);
    const column = row + 4096;
    for (let k: usize = 0; k < 2; k++) {
      store<i16>(row + k * 8, <i16>w0);
      store<i16>(row + k * 8 + 2, <i16>w1);
      store<i16>(row + k * 8 + 4, <i16>w2);
      store<i16>(row + k * 8 + 6, <i16>w3);
      store<i16>(column + k * 2, <i16>w0);
      store<i16>(column + 4 + k * 2, <i16>w1);
      store<i16>(column + 8 + k * 2, <i16>w2);
      store<i16>(column + 12 + k * 2, <i16>w3);
    }
  }
}

/** One bicubic sample, before its four lanes are added up, at 16.16 coordinates that lie inside the plane. */
@inline
export function sample(base: usize, stride: i32, x: i32, y: i32, weights: usize): v128 {
  const p = base + <usize>((y >> 16) * stride + (x >> 16));
  let v = v128.load32_zero(p);
  v = v128.load_lane<u32>(p + <usize>stride, v, 1);
  v = v128.load_lane<u32>(p + <usize>(2 * stride), v, 2);
  v = v128.load_lane<u32>(p + <usize>(3 * stride), v, 3);
  const row = v128.load(weights + <usize>((x >> 4) & 0xff0));
  const column = v128.load(weights + <usize>((y >> 4) & 0xff0), 4096);
  const top = i32x4.shr_s(i32x4.dot_i16x8_s(i16x8.extend_low_i8x16_u(v), row), 7);
  const low = i32x4.shr_s(i32x4.dot_i16x8_s(i16x8.extend_high_i8x16_u(v), row), 7);
  return i32x4.dot_i16x8_s(i16x8.narrow_i32x4_s(top, low), column);
}

/** Adds up the lanes of four samples and brings them to 0…255 or beyond. */
@inline
export function settle(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = i32x4.add(v128.shuffle<i32>(a, b, 0, 1, 4, 5), v128.shuffle<i32>(a, b, 2, 3, 6, 7));
  const cd = i32x4.add(v128.shuffle<i32>(c, d, 0, 1, 4, 5), v128.shuffle<i32>(c, d, 2, 3, 6, 7));
  const sum = i32x4.add(v128.shuffle<i32>(ab, cd, 0, 2, 4, 6), v128.shuffle<i32>(ab, cd, 1, 3, 5, 7));
  return i32x4.shr_s(i32x4.add(sum, i32x4.splat(1 << 20)), 21);
}

/** Copies the 4 × 4 neighbourhood of a sample, wrapping in longitude and reflecting over the poles unless the picture is bounded. */
function gather(base: usize, width: i32, height: i32, bounded: i32, x: i32, y: i32, patch: usize): void {
  for (let j = 0; j < 4; j++) {
    let row = y + j;
    let first = x;
    if (bounded) {
      row = max(0, min(height - 1, row));
      for (let i = 0; i < 4; i++)
        store<u8>(patch + <usize>(j * 4 + i), load<u8>(base + <usize>(row * width + max(0, min(width - 1, first + i)))));
      continue;
    }
    if (row < 0) {
      row = -1 - row;
      first += width >> 1;
    } else if (row >= height) {
      row = 2 * height - 1 - row;
      first += width >> 1;
    }
    row = max(0, min(height - 1, row));
    for (let i = 0; i < 4; i++) {
      let column = (first + i) % width;
      if (column < 0) column += width;
      store<u8>(patch + <usize>(j * 4 + i), load<u8>(base + <usize>(row * width + column)));
    }
  }
}

/** One sample at any coordinates of a level (16.16, half a pixel already taken off). */
export function sampleAnywhere(level: usize, x: i32, y: i32, weights: usize, patch: usize): i32 {
  const width = load<i32>(level, 4);
  const height = load<i32>(level, 8);
  gather(<usize>load<i32>(level), width, height, load<i32>(level, 12), (x >> 16) - 1, (y >> 16) - 1, patch);
  const s = sample(patch, 4, x & 0xffff, y & 0xffff, weights);
  return max(0, min(255, i32x4.extract_lane(settle(s, s, s, s), 0)));
}

/** Halves rows of a plane into the next mip level by the mean of 2 × 2: destination rows `from` to `to`. */
export function halve(source: usize, sourceWidth: i32, out: usize, width: i32, from: i32, to: i32): void {
  const two = i16x8.splat(2);
  for (let y = from; y < to; y++) {
    let p = source + <usize>(2 * y * sourceWidth);
    let q = out + <usize>(y * width);
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(p)), i16x8.extadd_pairwise_i8x16_u(v128.load(p + <usize>sourceWidth)));
      const mean = i16x8.shr_u(i16x8.add(sum, two), 2);
      v128.store_lane<u64>(q, i8x16.narrow_i16x8_u(mean, mean), 0);
      p += 16;
      q += 8;
    }
    for (; x < width; x++) {
      const s = <i32>load<u8>(p) + <i32>load<u8>(p, 1) + <i32>load<u8>(p + <usize>sourceWidth) + <i32>load<u8>(p + <usize>sourceWidth, 1);
      store<u8>(q, <u8>((s + 2) >> 2));
      p += 2;
      q += 1;
    }
  }
}

/** Narrows rows `from` to `to` of a plane to the means of four pixels side by side. */
export function narrow(source: usize, sourceWidth: i32, out: usize, width: i32, from: i32, to: i32): void {
  const two = i32x4.splat(2);
  for (let y = from; y < to; y++) {
    let p = source + <usize>(y * sourceWidth);
    let q = out + <usize>(y * width);
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const a = i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(v128.load(p)));
      const b = i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(v128.load(p, 16)));
      const eight = i16x8.narrow_i32x4_s(i32x4.shr_u(i32x4.add(a, two), 2), i32x4.shr_u(i32x4.add(b, two), 2));
      v128.store_lane<u64>(q, i8x16.narrow_i16x8_u(eight, eight), 0);
      p += 32;
      q += 8;
    }
    for (; x < width; x++) {
      const s = <i32>load<u8>(p) + <i32>load<u8>(p, 1) + <i32>load<u8>(p, 2) + <i32>load<u8>(p, 3);
      store<u8>(q, <u8>((s + 2) >> 2));
      p += 4;
      q += 1;
    }
  }
}

/**
 * The look: Y'CbCr to Y'CbCr by a table, interpolated tetrahedrally, in place. A table is three lattices one behind the other, of
 * what becomes of Y', Cb and Cr, 16 bits a point in 1/64 codes; Y' runs fastest. Points lie `1 << shift` sixteenths of a code apart.
 *
 * Along Y' two points are loaded at once. Of the three columns of points that a tetrahedron may touch, the first stands at the
 * cell's near corner, the second is one step on along that of Cb and Cr which lies farther inside, the third along both; how
 * much of each of a column's two points counts follows from where Y' lies among the three shares.
 */

/** Shares of a cell are in 1/128. */
const WHOLE = 128;
/** Fraction bits of a sum: those of the shares, and of a point's value. */
const BITS = 13;
const HALF = 1 << (BITS - 1);
/** Sixteenths of a code: the highest input. */
const MOST = 4095;

/** Thresholds for two by two pixels at even places, in 1/32 codes about zero: a 4 × 4 ordered pattern (Bayer 1973). */
@inline
function pattern(x: i32, y: i32): v128 {
  if (y & 2) return x & 2 ? i32x4(-5, 3, 13, -3) : i32x4(-9, 7, 9, -7);
  return x & 2 ? i32x4(-11, 5, 11, -5) : i32x4(-15, 1, 15, -1);
}

/** The threshold of one pixel. */
@inline
function alone(x: i32, y: i32): i32 {
  const four = pattern(x, y);
  if (y & 1) return x & 1 ? i32x4.extract_lane(four, 3) : i32x4.extract_lane(four, 2);
  return x & 1 ? i32x4.extract_lane(four, 1) : i32x4.extract_lane(four, 0);
}

/** Pairs of points of a column at four places, offsets in bytes. */
@inline
function pairs(column: usize, a: usize, b: usize, c: usize, d: usize): v128 {
  let four = v128.load32_zero(column + a);
  four = v128.load32_lane(column + b, four, 1);
  four = v128.load32_lane(column + c, four, 2);
  return v128.load32_lane(column + d, four, 3);
}

/** The shares of a pair's two points as one word for the dot product. */
@inline
function both(near: v128, far: v128): v128 {
  return v128.or(near, i32x4.shl(far, 16));
}

/**
 * Changes the colours of `rows` luma rows of `width` pixels in place. `block` pixels along each side share a colour, 1 or 2; with
 * 2, width and rows are even. Strides in bytes. `top` is the first row's place in the frame, for the pattern. `dither` from 0 to 16:
 * sixteenths of a code by which inputs are spread, so that a steep look shows no steps.
 */
export function lookRows(
  y: usize, u: usize, v: usize, stride: i32, chromaStride: i32, width: i32, rows: i32, block: i32, top: i32,
  table: usize, steps: i32, shift: i32, dither: i32,
): void {
  const lattice = <usize>(2 * steps * steps * steps);
  const columnShift = shift - 4;
  const insideMask = (1 << columnShift) - 1;
  const shareShift = 11 - shift;
  const inside = i32x4.splat((1 << shift) - 1);
  const strength = i32x4.splat(dither);
  const highest = i32x4.splat(MOST);
  const zero = i32x4.splat(0);
  const half = i32x4.splat(HALF);
  for (let j = 0; j < rows; j += block) {
    const row = y + <usize>(j * stride);
    const blue = u + <usize>((j / block) * chromaStride);
    const red = v + <usize>((j / block) * chromaStride);
    for (let i = 0; i < width; i += block) {
      const at = row + <usize>i;
      const site = <usize>(i / block);
      const cb = <i32>load<u8>(blue + site);
      const cr = <i32>load<u8>(red + site);
      const fb = (cb & insideMask) << shareShift;
      const fr = (cr & insideMask) << shareShift;
      const p = max(fb, fr);
      const q = min(fb, fr);
      const first = table + (<usize>((cb >> columnShift) * steps + (cr >> columnShift) * steps * steps) << 1);
      const second = first + (<usize>(fb >= fr ? steps : steps * steps) << 1);
      const third = first + (<usize>(steps + steps * steps) << 1);
      const word = block == 2
        ? <u32>load<u16>(at) | (<u32>load<u16>(at + <usize>stride) << 16)
        : <u32>load<u8>(at) * 0x01010101;
      const pixels = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(i32x4.splat(<i32>word)));
      const about = block == 2 ? pattern(i, top + j) : i32x4.splat(alone(i, top + j));
      const spread = i32x4.shr_s(i32x4.mul(about, strength), 5);
      const place = i32x4.min_s(highest, i32x4.max_s(zero, i32x4.add(i32x4.shl(pixels, 4), spread)));
      const f = shift == 6 ? i32x4.shl(v128.and(place, inside), 1) : v128.and(place, inside);
      const offsets = i32x4.shl(i32x4.shr_s(place, shift), 1);
      const a = <usize>i32x4.extract_lane(offsets, 0);
      const b = <usize>i32x4.extract_lane(offsets, 1);
      const c = <usize>i32x4.extract_lane(offsets, 2);
      const d = <usize>i32x4.extract_lane(offsets, 3);
      const ps = i32x4.splat(p);
      const qs = i32x4.splat(q);
      const higher = i32x4.max_s(f, ps);
      const lower = i32x4.min_s(f, qs);
      const between = i32x4.sub(i32x4.min_s(i32x4.max_s(f, qs), ps), qs);
      const shares1 = both(i32x4.sub(i32x4.splat(WHOLE), higher), i32x4.sub(higher, ps));
      const shares2 = both(i32x4.sub(i32x4.splat(p - q), between), between);
      const shares3 = both(i32x4.sub(qs, lower), lower);
      let sum = i32x4.add(half, i32x4.dot_i16x8_s(pairs(first, a, b, c, d), shares1));
      sum = i32x4.add(sum, i32x4.dot_i16x8_s(pairs(second, a, b, c, d), shares2));
      sum = i32x4.add(sum, i32x4.dot_i16x8_s(pairs(third, a, b, c, d), shares3));
      const short = i16x8.narrow_i32x4_s(i32x4.shr_s(sum, BITS), zero);
      const out = i32x4.extract_lane(i8x16.narrow_i16x8_u(short, zero), 0);
      // Colour goes with the mean of its pixels.
      const added = (word & 0x00ff00ff) + ((word >> 8) & 0x00ff00ff);
      const middle = <i32>((added & 0xffff) + (added >> 16)) << 2;
      const fm = shift == 6 ? (middle & 63) << 1 : middle & 127;
      const offset = <usize>((middle >> shift) << 1);
      const over = max(fm, p);
      const amid = min(max(fm, q), p) - q;
      const under = min(fm, q);
      const share1 = (WHOLE - over) | ((over - p) << 16);
      const share2 = (p - q - amid) | (amid << 16);
      const share3 = (q - under) | (under << 16);
      let points = v128.load32_zero(first + lattice + offset);
      points = v128.load32_lane(first + 2 * lattice + offset, points, 1);
      points = v128.load32_lane(second + lattice + offset, points, 2);
      points = v128.load32_lane(second + 2 * lattice + offset, points, 3);
      const near = i32x4.dot_i16x8_s(points, i32x4(share1, share1, share2, share2));
      points = v128.load32_zero(third + lattice + offset);
      points = v128.load32_lane(third + 2 * lattice + offset, points, 1);
      const far = i32x4.dot_i16x8_s(points, i32x4.splat(share3));
      const colours = i32x4.shr_s(i32x4.add(i32x4.add(half, near), i32x4.add(far, v128.shuffle<i32>(near, near, 2, 3, 0, 1))), BITS);
      if (block == 2) {
        store<u16>(at, <u16>out);
        store<u16>(at + <usize>stride, <u16>(out >> 16));
      } else store<u8>(at, <u8>out);
      store<u8>(blue + site, <u8>i32x4.extract_lane(colours, 0));
      store<u8>(red + site, <u8>i32x4.extract_lane(colours, 1));
    }
  }
}

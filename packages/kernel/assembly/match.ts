/** Bringing the lenses' brightness and colour together, in place on a decoded 4:2:0 picture. */

import { CHROMA_SPAN, KB, KG, KR, LUMA_SPAN } from '../../core/src/colour/bt709';
import { BLOCK } from './record';

/** Writes the matrix minus the identity that gains of red, green and blue are in Y, U, V: 9 × 16 bits in Q15. */
function fillMatrix(r: f64, g: f64, b: f64, out: usize): void {
  // Columns: what R, G and B are made of, from Y, U, V in units of luma's range; rows: back again.
  const ru = 0.0;
  const rv = 2 * (1 - KR);
  const bu = 2 * (1 - KB);
  const gu = (-KB * bu) / KG;
  const gv = (-KR * rv) / KG;
  // Luma spans fewer steps than colour: products between them are scaled.
  const s = LUMA_SPAN / CHROMA_SPAN;
  for (let column = 0; column < 3; column++) {
    const red = r * (column == 0 ? 1 : column == 1 ? ru : rv);
    const green = g * (column == 0 ? 1 : column == 1 ? gu : gv);
    const blue = b * (column == 0 ? 1 : column == 1 ? bu : 0.0);
    const y = KR * red + KG * green + KB * blue;
    const u = (blue - y) / (2 * (1 - KB));
    const v = (red - y) / (2 * (1 - KR));
    const scale = column == 0 ? 1.0 : s;
    write(out, 0, column, y * scale);
    write(out, 1, column, (u * scale) / s);
    write(out, 2, column, (v * scale) / s);
  }
}

@inline
function write(out: usize, row: i32, column: i32, value: f64): void {
  const difference = value - (row == column ? 1 : 0);
  store<i16>(out + <usize>((row * 3 + column) << 1), <i16>max(-32767.0, min(32767.0, Math.round(difference * 32768))));
}

@inline
function term(matrix: usize, i: usize, value: v128): v128 {
  return i16x8.q15mulr_sat_s(value, v128.load16_splat(matrix + (i << 1)));
}

/** Eight samples less their zero, times 128. */
@inline
function centred(p: usize, zero: i16): v128 {
  return i16x8.shl(i16x8.sub(v128.load8x8_u(p), i16x8.splat(zero)), 7);
}

@inline
function add(p: usize, change: v128): void {
  const rounded = i16x8.shr_s(i16x8.add(change, i16x8.splat(64)), 7);
  const sum = i16x8.add(v128.load8x8_u(p), rounded);
  v128.store_lane<u64>(p, i8x16.narrow_i16x8_u(sum, sum), 0);
}

/**
 * Corrects block rows `from` to `to` of a picture of width × height (both multiples of 16; what is left over stays
 * as it is). `blocks` has 8 bytes a block, rows first: sector of the azimuth in 1/256 (u16), share of the sector's
 * deviation and of the mean gain (each u16 in 1/65535), lens (u16: 0, 1, or 2 for none). `gains` has for each
 * lens natural logarithms as f32: the mean's three, then three for each of `sectors` deviations from it. `scratch` is 32 bytes.
 */
export function matchRows(y: usize, u: usize, v: usize, width: i32, from: i32, to: i32, blocks: usize, gains: usize, sectors: i32, scratch: usize): void {
  const across = width / BLOCK;
  const half = width >> 1;
  for (let row = from; row < to; row++)
    for (let column = 0; column < across; column++) {
      const block = blocks + (<usize>(row * across + column) << 3);
      const lens = <i32>load<u16>(block, 6);
      if (lens > 1) continue;
      const table = gains + <usize>(lens * (sectors + 1) * 12);
      const place = <i32>load<u16>(block);
      const first = (place >> 8) % sectors;
      const second = (first + 1) % sectors;
      const f = <f64>(place & 255) / 256;
      const local = <f64>load<u16>(block, 2) / 65535;
      const mean = <f64>load<u16>(block, 4) / 65535;
      const r = gainOf(table, first, second, f, local, mean, 0);
      const g = gainOf(table, first, second, f, local, mean, 4);
      const b = gainOf(table, first, second, f, local, mean, 8);
      fillMatrix(r, g, b, scratch);
      const left = column * BLOCK;
      for (let line = 0; line < 8; line++) {
        const top = (row * 8 + line) * 2;
        const y0 = y + <usize>(top * width + left);
        const y1 = y0 + <usize>width;
        const pu = u + <usize>((row * 8 + line) * half + (left >> 1));
        const pv = v + <usize>((row * 8 + line) * half + (left >> 1));
        const cu = centred(pu, 128);
        const cv = centred(pv, 128);
        // Mean luma of the four pixels that share a colour.
        const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(y0)), i16x8.extadd_pairwise_i8x16_u(v128.load(y1)));
        const luma = i16x8.shl(i16x8.sub(sum, i16x8.splat(64)), 5);
        const colour = i16x8.add(term(scratch, 1, cu), term(scratch, 2, cv));
        const low = v128.shuffle<i16>(colour, colour, 0, 0, 1, 1, 2, 2, 3, 3);
        const high = v128.shuffle<i16>(colour, colour, 4, 4, 5, 5, 6, 6, 7, 7);
        add(pu, i16x8.add(term(scratch, 3, luma), i16x8.add(term(scratch, 4, cu), term(scratch, 5, cv))));
        add(pv, i16x8.add(term(scratch, 6, luma), i16x8.add(term(scratch, 7, cu), term(scratch, 8, cv))));
        add(y0, i16x8.add(term(scratch, 0, centred(y0, 16)), low));
        add(y0 + 8, i16x8.add(term(scratch, 0, centred(y0 + 8, 16)), high));
        add(y1, i16x8.add(term(scratch, 0, centred(y1, 16)), low));
        add(y1 + 8, i16x8.add(term(scratch, 0, centred(y1 + 8, 16)), high));
      }
    }
}

@inline
function gainOf(table: usize, first: i32, second: i32, f: f64, local: f64, mean: f64, channel: usize): f64 {
  const a = <f64>load<f32>(table + 12 + <usize>(first * 12) + channel);
  const b = <f64>load<f32>(table + 12 + <usize>(second * 12) + channel);
  return Math.exp(mean * <f64>load<f32>(table + channel) + local * (a + (b - a) * f));
}

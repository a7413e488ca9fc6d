/** Laying something with its own opacity over a plane: what is added is there already weighted, with what is left of what was. */

/** `count` samples at `to` become `added + to · left / 255`. */
export function layOver(to: usize, added: usize, left: usize, count: i32): void {
  const half = i16x8.splat(128);
  let i = 0;
  for (; i + 8 <= count; i += 8) {
    const at = <usize>i;
    const remains = v128.load64_zero(left + at);
    // Most of a frame is left alone.
    if (i64x2.extract_lane(remains, 0) == -1) continue;
    const was = i16x8.mul(i16x8.extend_low_i8x16_u(v128.load64_zero(to + at)), i16x8.extend_low_i8x16_u(remains));
    const sum = i16x8.add(was, half);
    // Exactly a division by 255, rounded.
    const shares = i16x8.shr_u(i16x8.add(sum, i16x8.shr_u(sum, 8)), 8);
    const out = i16x8.add(shares, i16x8.extend_low_i8x16_u(v128.load64_zero(added + at)));
    v128.store64_lane(to + at, i8x16.narrow_i16x8_u(out, out), 0);
  }
  for (; i < count; i++) {
    const at = <usize>i;
    const share = (<i32>load<u8>(to + at) * <i32>load<u8>(left + at) + 127) / 255;
    store<u8>(to + at, <u8>min(255, share + <i32>load<u8>(added + at)));
  }
}

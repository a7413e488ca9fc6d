/** Mixing several pictures of the same place: sums of samples times weights, 16 bits each, and what they come to. */

/** Adds `bytes` samples times a weight (1/256) to sums. The weights of a sum add up to 256. */
export function addRows(samples: usize, sums: usize, bytes: i32, weight: i32): void {
  const w = i16x8.splat(<i16>weight);
  let i = 0;
  for (; i + 16 <= bytes; i += 16) {
    const v = v128.load(samples + <usize>i);
    const to = sums + (<usize>i << 1);
    v128.store(to, i16x8.add(v128.load(to), i16x8.mul(i16x8.extend_low_i8x16_u(v), w)));
    v128.store(to, i16x8.add(v128.load(to, 16), i16x8.mul(i16x8.extend_high_i8x16_u(v), w)), 16);
  }
  for (; i < bytes; i++) {
    const to = sums + (<usize>i << 1);
    store<u16>(to, load<u16>(to) + <u16>(<i32>load<u8>(samples + <usize>i) * weight));
  }
}

/** Rounds `bytes` sums to samples. */
export function settleRows(sums: usize, out: usize, bytes: i32): void {
  for (let i = 0; i < bytes; i++) store<u8>(out + <usize>i, <u8>((<i32>load<u16>(sums + (<usize>i << 1)) + 128) >> 8));
}

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
  const half = i16x8.splat(128);
  let i = 0;
  for (; i + 16 <= bytes; i += 16) {
    const from = sums + (<usize>i << 1);
    const low = i16x8.shr_u(i16x8.add(v128.load(from), half), 8);
    const high = i16x8.shr_u(i16x8.add(v128.load(from, 16), half), 8);
    v128.store(out + <usize>i, i8x16.narrow_i16x8_u(low, high));
  }
  for (; i < bytes; i++) store<u8>(out + <usize>i, <u8>((<i32>load<u16>(sums + (<usize>i << 1)) + 128) >> 8));
}

/** Lays `bytes` samples over others with a weight of 0 to 256. */
export function blendRows(samples: usize, to: usize, bytes: i32, weight: i32): void {
  const over = i16x8.splat(<i16>weight);
  const under = i16x8.splat(<i16>(256 - weight));
  const half = i16x8.splat(128);
  let i = 0;
  for (; i + 16 <= bytes; i += 16) {
    const a = v128.load(samples + <usize>i);
    const b = v128.load(to + <usize>i);
    const low = i16x8.add(i16x8.mul(i16x8.extend_low_i8x16_u(a), over), i16x8.mul(i16x8.extend_low_i8x16_u(b), under));
    const high = i16x8.add(i16x8.mul(i16x8.extend_high_i8x16_u(a), over), i16x8.mul(i16x8.extend_high_i8x16_u(b), under));
    v128.store(
      to + <usize>i,
      i8x16.narrow_i16x8_u(i16x8.shr_u(i16x8.add(low, half), 8), i16x8.shr_u(i16x8.add(high, half), 8)),
    );
  }
  for (; i < bytes; i++) {
    const mixed = <i32>load<u8>(samples + <usize>i) * weight + <i32>load<u8>(to + <usize>i) * (256 - weight);
    store<u8>(to + <usize>i, <u8>((mixed + 128) >> 8));
  }
}

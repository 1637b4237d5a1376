/** Most 16-byte steps before the sums must be reduced, so that nothing overflows. */
const STEPS = 340;
const BASE: u32 = 65521;

function lanes(v: v128): u32 {
  return (
    i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3)
  );
}

/** Adler-32 (RFC 1950, section 8.2), sixteen bytes at a time. */
export function adler32(at: usize, length: i32): u32 {
  let a: u32 = 1;
  let b: u32 = 0;
  const high = i16x8(16, 15, 14, 13, 12, 11, 10, 9);
  const low = i16x8(8, 7, 6, 5, 4, 3, 2, 1);
  while (length >= 16) {
    const steps = min(length >> 4, STEPS);
    length -= steps << 4;
    b += a * <u32>(steps << 4);
    let sum = i32x4.splat(0);
    let earlier = i32x4.splat(0);
    let weighted = i32x4.splat(0);
    for (let k = 0; k < steps; k++) {
      const bytes = v128.load(at);
      at += 16;
      const first = i16x8.extend_low_i8x16_u(bytes);
      const second = i16x8.extend_high_i8x16_u(bytes);
      earlier = i32x4.add(earlier, sum);
      sum = i32x4.add(sum, i32x4.extadd_pairwise_i16x8_s(i16x8.add(first, second)));
      weighted = i32x4.add(
        weighted,
        i32x4.add(i32x4.dot_i16x8_s(first, high), i32x4.dot_i16x8_s(second, low)),
      );
    }
    a = (a + lanes(sum)) % BASE;
    b = (b + 16 * (lanes(earlier) % BASE) + lanes(weighted)) % BASE;
  }
  for (; length > 0; length--) {
    a += load<u8>(at++);
    b += a;
  }
  return ((b % BASE) << 16) | (a % BASE);
}

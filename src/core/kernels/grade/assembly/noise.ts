/** Noise of grains: white noise by place, seed and frame, then filtered. */

/** Mixes a number so that every bit of it depends on all (the finaliser of MurmurHash3, Appleby 2011). */
function mix(value: v128): v128 {
  let h = v128.xor(value, i32x4.shr_u(value, 16));
  h = i32x4.mul(h, i32x4.splat(0x85ebca6b));
  h = v128.xor(h, i32x4.shr_u(h, 13));
  h = i32x4.mul(h, i32x4.splat(0xc2b2ae35));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

/** The sum of the four bytes of each lane, less its mean, over its standard deviation: nearly normal, within 3.45 of them. */
function normal(bits: v128): v128 {
  const mask = i32x4.splat(0xff);
  const low = i32x4.add(v128.and(bits, mask), v128.and(i32x4.shr_u(bits, 8), mask));
  const high = i32x4.add(v128.and(i32x4.shr_u(bits, 16), mask), i32x4.shr_u(bits, 24));
  const sum = f32x4.convert_i32x4_s(i32x4.add(low, high));
  // The variance of one byte is (256^2 - 1) / 12.
  return f32x4.mul(f32x4.sub(sum, f32x4.splat(510)), f32x4.splat(<f32>(1.0 / 147.80054127)));
}

/**
 * White noise on rows `from` to `to` of a plane of `across` (a multiple of 4) values a row, whose first one stands at column
 * `left` and row `top` of the whole picture; the same place has the same noise in every plane.
 */
export function noiseRows(out: usize, across: i32, left: i32, top: i32, seed: i32, from: i32, to: i32): void {
  for (let y = from; y < to; y++) {
    const row = mix(i32x4.add(i32x4.splat(<i32>(<u32>(y + top) * 0x9e3779b1)), i32x4.splat(seed)));
    let at = out + ((<usize>(y * across)) << 2);
    for (let x = 0; x < across; x += 4) {
      const columns = i32x4.add(i32x4.splat(x + left), i32x4(0, 1, 2, 3));
      const bits = mix(v128.xor(row, i32x4.mul(columns, i32x4.splat(<i32>0x27d4eb2f))));
      v128.store(at, normal(bits));
      at += 16;
    }
  }
}

/**
 * Rows `from` to `to` of a plane of `width` values a row, filtered both ways: `white` begins `reach` rows above and columns to
 * the left and has `across` values a row. Weights go from `-reach` to `reach`; `scratch` holds a row of `across` values.
 */
export function filterRows(
  white: usize,
  across: i32,
  weights: usize,
  reach: i32,
  out: usize,
  width: i32,
  from: i32,
  to: i32,
  scratch: usize,
): void {
  for (let y = from; y < to; y++) {
    memory.fill(scratch, 0, (<usize>across) << 2);
    for (let k = 0; k <= 2 * reach; k++) {
      const weight = v128.load32_splat(weights + ((<usize>k) << 2));
      const row = white + ((<usize>((y + k) * across)) << 2);
      for (let x = 0; x < across; x += 4) {
        const at = (<usize>x) << 2;
        v128.store(scratch + at, f32x4.add(v128.load(scratch + at), f32x4.mul(weight, v128.load(row + at))));
      }
    }
    const target = out + ((<usize>((y - from) * width)) << 2);
    for (let x = 0; x < width; x += 4) {
      let sum = f32x4.splat(0);
      for (let k = 0; k <= 2 * reach; k++)
        sum = f32x4.add(
          sum,
          f32x4.mul(
            v128.load32_splat(weights + ((<usize>k) << 2)),
            v128.load(scratch + ((<usize>(x + k)) << 2)),
          ),
        );
      if (x + 4 <= width) v128.store(target + ((<usize>x) << 2), sum);
      else {
        store<f32>(target + ((<usize>x) << 2), f32x4.extract_lane(sum, 0));
        if (x + 1 < width) store<f32>(target + ((<usize>x) << 2), f32x4.extract_lane(sum, 1), 4);
        if (x + 2 < width) store<f32>(target + ((<usize>x) << 2), f32x4.extract_lane(sum, 2), 8);
      }
    }
  }
}

/** The byte predictor and interleaving of OpenEXR's ZIP and RLE chunks, and back. */

/** Sum of `count` bytes, in its lowest 8 bits. */
function sumBytes(from: usize, count: i32): u8 {
  let sums = i8x16.splat(0);
  let i = 0;
  for (; i + 16 <= count; i += 16) sums = i8x16.add(sums, v128.load(from + i));
  let sum = <u8>i8x16.extract_lane_u(runningSums(sums), 15);
  for (; i < count; i++) sum += load<u8>(from + i);
  return sum;
}

/** Each byte plus all before it in the vector. */
function runningSums(v: v128): v128 {
  v = i8x16.add(v, i64x2.shl(v, 8));
  v = i8x16.add(v, i64x2.shl(v, 16));
  v = i8x16.add(v, i64x2.shl(v, 32));
  const upper = i8x16(-1, -1, -1, -1, -1, -1, -1, -1, 7, 7, 7, 7, 7, 7, 7, 7);
  return i8x16.add(v, i8x16.swizzle(v, upper));
}

/**
 * Undoes the predictor of `count` bytes at `from` (running sum minus 128), and puts their two halves in turn to `to`. Both
 * halves are read at once: what the second begins with is the sum of the first.
 */
export function unpredict(from: usize, count: i32, to: usize): void {
  const half = (count + 1) >> 1;
  const pairs = count >> 1;
  let a = from;
  let b = from + half;
  // Minus 128 a step flips the top bit of every second byte, counted from the first of all.
  const flipsA = i8x16(0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128);
  const flipsB = half & 1 ? v128.xor(flipsA, i8x16.splat(-128)) : flipsA;
  const last = i8x16.splat(15);
  let sumA: u8 = 0;
  let sumB = sumBytes(from, half);
  let carryA = i8x16.splat(0);
  let carryB = i8x16.splat(<i8>sumB);
  let k = 0;
  for (; k + 16 <= pairs; k += 16) {
    let x = i8x16.add(runningSums(v128.load(a)), carryA);
    let y = i8x16.add(runningSums(v128.load(b)), carryB);
    carryA = i8x16.swizzle(x, last);
    carryB = i8x16.swizzle(y, last);
    x = v128.xor(x, flipsA);
    y = v128.xor(y, flipsB);
    v128.store(to, i8x16.shuffle(x, y, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(to, i8x16.shuffle(x, y, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31), 16);
    a += 16;
    b += 16;
    to += 32;
  }
  sumA = <u8>i8x16.extract_lane_u(carryA, 0);
  sumB = <u8>i8x16.extract_lane_u(carryB, 0);
  for (; k < pairs; k++) {
    sumA += load<u8>(a++);
    sumB += load<u8>(b++);
    store<u8>(to, sumA ^ (k & 1 ? 0x80 : 0));
    store<u8>(to + 1, sumB ^ ((half + k) & 1 ? 0x80 : 0));
    to += 2;
  }
  if (count & 1) store<u8>(to, (sumA + load<u8>(a)) ^ (k & 1 ? 0x80 : 0));
}

/** Parts `count` bytes at `from` into even and odd ones at `to`, then replaces each by its difference plus 128. */
export function predict(from: usize, count: i32, to: usize): void {
  const half = (count + 1) >> 1;
  let a = to;
  let b = to + half;
  let i = 0;
  for (; i + 32 <= count; i += 32) {
    const x = v128.load(from + i);
    const y = v128.load(from + i, 16);
    v128.store(a, i8x16.shuffle(x, y, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30));
    v128.store(b, i8x16.shuffle(x, y, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31));
    a += 16;
    b += 16;
  }
  for (; i < count; i++) {
    if (i & 1) store<u8>(b++, load<u8>(from + i));
    else store<u8>(a++, load<u8>(from + i));
  }
  // From the end, so that each byte's neighbour still has its own value.
  const offset = i8x16.splat(-128);
  i = count;
  for (; i - 16 >= 1; i -= 16) {
    const at = to + i - 16;
    v128.store(at, i8x16.add(i8x16.sub(v128.load(at), v128.load(at - 1)), offset));
  }
  for (i--; i >= 1; i--) store<u8>(to + i, load<u8>(to + i) - load<u8>(to + i - 1) + 128);
}

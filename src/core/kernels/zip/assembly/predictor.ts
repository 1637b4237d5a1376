/** The byte predictor and interleaving of OpenEXR's ZIP and RLE chunks, and back. */

/**
 * Undoes the predictor of `count` bytes at `from` in place (running sum minus 128), then puts the two halves in turn to
 * `to`.
 */
export function unpredict(from: usize, count: i32, to: usize): void {
  const zero = i8x16.splat(0);
  // Minus 128 a step flips the top bit of every second byte.
  const flips = i8x16(0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128, 0, -128);
  let carry = zero;
  let i = 0;
  for (; i + 16 <= count; i += 16) {
    let v = v128.load(from + i);
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 0, 0, 0, 0, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23));
    v = i8x16.add(v, carry);
    carry = i8x16.shuffle(v, v, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15);
    v128.store(from + i, v128.xor(v, flips));
  }
  let sum = <u8>i8x16.extract_lane_u(carry, 0);
  for (; i < count; i++) {
    sum += load<u8>(from + i);
    store<u8>(from + i, sum ^ (i & 1 ? 0x80 : 0));
  }
  interleave(from, count, to);
}

function interleave(from: usize, count: i32, to: usize): void {
  let a = from;
  let b = from + ((count + 1) >> 1);
  const pairs = count >> 1;
  let k = 0;
  for (; k + 16 <= pairs; k += 16) {
    const x = v128.load(a);
    const y = v128.load(b);
    v128.store(to, i8x16.shuffle(x, y, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(to, i8x16.shuffle(x, y, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31), 16);
    a += 16;
    b += 16;
    to += 32;
  }
  for (; k < pairs; k++) {
    store<u8>(to, load<u8>(a++));
    store<u8>(to + 1, load<u8>(b++));
    to += 2;
  }
  if (count & 1) store<u8>(to, load<u8>(a));
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

/** The two-dimensional wavelet of PIZ chunks, and back (Academy Software Foundation, OpenEXR 3.1, ImfWav). */

/** Values below this use arithmetic that does not wrap round. */
const SIGNED_LIMIT: i32 = 1 << 14;

// A pair was turned into its mean (`low`) and difference (`high`). Each function gives one of the two back, by lanes of 16
// bits; which arithmetic the pair has is known for a whole chunk.

function first14(low: v128, high: v128): v128 {
  return i16x8.add(i16x8.add(low, v128.and(high, i16x8.splat(1))), i16x8.shr_s(high, 1));
}

function second16(low: v128, high: v128): v128 {
  return i16x8.sub(low, i16x8.shr_u(high, 1));
}

function first(low: v128, high: v128, is14: bool): v128 {
  if (is14) return first14(low, high);
  return i16x8.add(i16x8.add(high, second16(low, high)), i16x8.splat(-0x8000));
}

function second(low: v128, high: v128, is14: bool): v128 {
  if (is14) return i16x8.sub(first14(low, high), high);
  return second16(low, high);
}

/** Undoes a pair of values at `p` and `q`. */
function undoPair(p: usize, q: usize, is14: bool): void {
  const low = <i32>load<i16>(p);
  const high = <i32>load<i16>(q);
  if (is14) {
    const a = low + (high & 1) + (high >> 1);
    store<i16>(p, <i16>a);
    store<i16>(q, <i16>(a - high));
  } else {
    const b = low - ((high & 0xffff) >> 1);
    store<i16>(p, <i16>(high + b - 0x8000));
    store<i16>(q, <i16>b);
  }
}

function undoSquare(p: usize, right: usize, below: usize, is14: bool): void {
  undoPair(p, p + below, is14);
  undoPair(p + right, p + right + below, is14);
  undoPair(p, p + right, is14);
  undoPair(p + below, p + right + below, is14);
}

/** Undoes `count` squares of four values in a row, each `next` bytes after the one before. */
function undoSquares(p: usize, count: i32, next: usize, right: usize, below: usize, is14: bool): void {
  for (let k = 0; k < count; k++, p += next) undoSquare(p, right, below, is14);
}

/** The same where squares follow each other without a gap. */
function undoAdjacentSquares(p: usize, count: i32, below: usize, is14: bool): void {
  let k = 0;
  for (; k + 8 <= count; k += 8, p += 32) {
    const upper0 = v128.load(p);
    const upper1 = v128.load(p, 16);
    const lower0 = v128.load(p + below);
    const lower1 = v128.load(p + below, 16);
    const even = i16x8.shuffle(upper0, upper1, 0, 2, 4, 6, 8, 10, 12, 14);
    const odd = i16x8.shuffle(upper0, upper1, 1, 3, 5, 7, 9, 11, 13, 15);
    const evenBelow = i16x8.shuffle(lower0, lower1, 0, 2, 4, 6, 8, 10, 12, 14);
    const oddBelow = i16x8.shuffle(lower0, lower1, 1, 3, 5, 7, 9, 11, 13, 15);
    const left0 = first(even, evenBelow, is14);
    const left1 = second(even, evenBelow, is14);
    const right0 = first(odd, oddBelow, is14);
    const right1 = second(odd, oddBelow, is14);
    const top0 = first(left0, right0, is14);
    const top1 = second(left0, right0, is14);
    const bottom0 = first(left1, right1, is14);
    const bottom1 = second(left1, right1, is14);
    v128.store(p, i16x8.shuffle(top0, top1, 0, 8, 1, 9, 2, 10, 3, 11));
    v128.store(p, i16x8.shuffle(top0, top1, 4, 12, 5, 13, 6, 14, 7, 15), 16);
    v128.store(p + below, i16x8.shuffle(bottom0, bottom1, 0, 8, 1, 9, 2, 10, 3, 11));
    v128.store(p + below, i16x8.shuffle(bottom0, bottom1, 4, 12, 5, 13, 6, 14, 7, 15), 16);
  }
  undoSquares(p, count - k, 4, 2, below, is14);
}

function undoLevels(start: usize, nx: i32, ox: i32, ny: i32, oy: i32, is14: bool): void {
  let double = 1;
  while (double <= min(nx, ny)) double <<= 1;
  double >>= 1;
  for (let step = double >> 1; step >= 1; double = step, step >>= 1) {
    const count = nx / double;
    const next = <usize>(2 * double * ox);
    const right = <usize>(2 * step * ox);
    const below = <usize>(2 * step * oy);
    let p = start;
    let y = 0;
    for (; y <= ny - double; y += double) {
      if (next === 4) undoAdjacentSquares(p, count, below, is14);
      else undoSquares(p, count, next, right, below, is14);
      if (nx & step) {
        const odd = p + <usize>count * next;
        undoPair(odd, odd + below, is14);
      }
      p += <usize>(2 * double * oy);
    }
    if (ny & step) for (let k = 0; k < count; k++, p += next) undoPair(p, p + right, is14);
  }
}

/**
 * Undoes the transform of `nx * ny` values of 16 bits that lie `ox` and `oy` values apart, from the coarsest level to the
 * finest, in place. `highest` is the largest value that went in.
 */
export function unwavelet(start: usize, nx: i32, ox: i32, ny: i32, oy: i32, highest: i32): void {
  if (highest < SIGNED_LIMIT) undoLevels(start, nx, ox, ny, oy, true);
  else undoLevels(start, nx, ox, ny, oy, false);
}

/**
 * IEEE 754 binary16 ("half"), the usual sample type of OpenEXR.
 * Node 20 has no Float16Array, so both directions are done by hand.
 */

/** Largest finite half. */
export const HALF_MAX = 65504;

let table: Uint32Array | undefined;

/** Bits of the binary32 number equal to each of the 65536 halves; a NaN keeps its payload (bits << 13). */
function halfToFloatBits(): Uint32Array {
  if (table) return table;
  const bits = new Uint32Array(65536);
  const asFloat = new Float32Array(1);
  const asBits = new Uint32Array(asFloat.buffer);
  for (let half = 0; half < 65536; half++) {
    const sign = (half & 0x8000) << 16;
    const exponent = (half >> 10) & 0x1f;
    const mantissa = half & 0x3ff;
    if (exponent === 31) bits[half] = (sign | 0x7f800000 | (mantissa << 13)) >>> 0;
    else if (exponent > 0) bits[half] = (sign | ((exponent + 112) << 23) | (mantissa << 13)) >>> 0;
    else {
      asFloat[0] = mantissa * 2 ** -24;
      bits[half] = (asBits[0]! | sign) >>> 0;
    }
  }
  table = bits;
  return bits;
}

/** Widens halves (as 16-bit patterns) to floats, exactly. */
export function halvesToFloats(halves: Uint16Array, out = new Float32Array(halves.length)): Float32Array {
  const bits = halfToFloatBits();
  const outBits = new Uint32Array(out.buffer, out.byteOffset, out.length);
  for (let i = 0; i < halves.length; i++) outBits[i] = bits[halves[i]!]!;
  return out;
}

const one = new Float32Array(1);
const oneBits = new Uint32Array(one.buffer);

/** The bit pattern of the half nearest to a number: ties to even, overflow to infinity, NaN stays NaN. */
export function floatToHalf(value: number): number {
  one[0] = value;
  return floatBitsToHalf(oneBits[0]!);
}

function floatBitsToHalf(bits: number): number {
  const sign = (bits >>> 16) & 0x8000;
  const exponent = (bits >>> 23) & 0xff;
  const mantissa = bits & 0x7fffff;
  if (exponent === 255) {
    // An all-zero payload would read back as infinity, so one bit is kept.
    return mantissa === 0 ? sign | 0x7c00 : sign | 0x7c00 | (mantissa >>> 13 || 1);
  }
  if (exponent >= 143) return sign | 0x7c00;
  if (exponent >= 113) {
    // Just under half a step is added, and the last kept bit: a carry goes into the exponent, as it must.
    const rounded = (bits & 0x7fffffff) - (112 << 23) + 0xfff + ((bits >>> 13) & 1);
    return sign | (rounded >>> 13);
  }
  if (exponent < 102) return sign;
  const full = mantissa | 0x800000;
  const shift = 126 - exponent;
  return sign | ((full + (1 << (shift - 1)) - 1 + ((full >>> shift) & 1)) >>> shift);
}

/** Narrows floats to halves, rounding to nearest even. Values beyond the largest half become infinity. */
export function floatsToHalves(floats: Float32Array, out = new Uint16Array(floats.length)): Uint16Array {
  const bits = new Uint32Array(floats.buffer, floats.byteOffset, floats.length);
  for (let i = 0; i < floats.length; i++) out[i] = floatBitsToHalf(bits[i]!);
  return out;
}

const INFINITY = 0x7c00;
const LARGEST = 0x7bff;

/** Turns infinities into the largest half of their sign, and gives how many there were. */
export function limitHalves(halves: Uint16Array): number {
  let limited = 0;
  for (let i = 0; i < halves.length; i++) {
    if ((halves[i]! & 0x7fff) !== INFINITY) continue;
    halves[i] = (halves[i]! & 0x8000) | LARGEST;
    limited++;
  }
  return limited;
}

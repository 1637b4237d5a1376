import { encode } from 'fast-png';

/**
 * Writes encoded display values (interleaved RGB, 0..1) as PNG with 8 or 16 bits a channel, rounded to the nearest
 * step.
 */
export function writePng(
  rgb: Float32Array,
  width: number,
  height: number,
  bits: 8 | 16,
): Uint8Array<ArrayBuffer> {
  const top = 2 ** bits - 1;
  const data = bits === 8 ? new Uint8Array(rgb.length) : new Uint16Array(rgb.length);
  for (let i = 0; i < rgb.length; i++) data[i] = Math.round(rgb[i]! * top);
  return new Uint8Array(encode({ width, height, data, channels: 3, depth: bits }));
}

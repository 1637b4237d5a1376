import { encode } from 'fast-png';

/**
 * Writes encoded display values (interleaved RGB, or RGB and unassociated alpha, 0..1) as PNG with 8 or 16 bits a channel,
 * rounded to the nearest step.
 */
export function writePng(
  values: Float32Array,
  width: number,
  height: number,
  bits: 8 | 16,
  channels: 3 | 4 = 3,
): Uint8Array<ArrayBuffer> {
  const top = 2 ** bits - 1;
  const data = bits === 8 ? new Uint8Array(values.length) : new Uint16Array(values.length);
  for (let i = 0; i < values.length; i++) data[i] = Math.round(values[i]! * top);
  return new Uint8Array(encode({ width, height, data, channels, depth: bits }));
}

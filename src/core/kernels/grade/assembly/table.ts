/** Tables over the exponent and upper mantissa of light (see color/tone.ts, logTable). */

/** Lower bits that are between entries, the pattern of the first entry, and entries but the last. */
const SHIFT: u32 = 15;
const FIRST: u32 = (127 - 24) << 23;
const LAST: u32 = 44 * 256;
/** No light gets brighter, so that what follows stays finite. */
const MOST: f32 = 1e30;
/** Bytes of a table. */
export const TABLE_BYTES: usize = 4 * (44 * 256 + 1 + 2);

/** The value of light in a table; below and above it the ends' ratios go on, and negative light is mapped as positive is. */
export function toneAt(table: usize, light: f32): f32 {
  const bits = reinterpret<u32>(light);
  const place = <i32>((bits & 0x7fffffff) - FIRST);
  if (place < 0) return light * load<f32>(table, 4 * (44 * 256 + 1));
  const index = (<u32>place) >>> SHIFT;
  if (index >= LAST) {
    const far = light * load<f32>(table, 4 * (44 * 256 + 2));
    return min<f32>(MOST, max<f32>(-MOST, far));
  }
  const at = table + ((<usize>index) << 2);
  const low = load<f32>(at);
  const share: f32 = <f32>((<u32>place) & ((1 << SHIFT) - 1)) * (1.0 / 32768.0);
  const mapped: f32 = low + share * (load<f32>(at, 4) - low);
  return bits >> 31 ? -mapped : mapped;
}

/** The value of a table of what depends on how bright light is; below and above it the ends go on. */
export function levelAt(table: usize, light: f32): f32 {
  const place = <i32>((reinterpret<u32>(light) & 0x7fffffff) - FIRST);
  if (place < 0) return load<f32>(table);
  const index = min((<u32>place) >>> SHIFT, LAST);
  const at = table + ((<usize>index) << 2);
  if (index === LAST) return load<f32>(at);
  const low = load<f32>(at);
  return low + <f32>((<u32>place) & ((1 << SHIFT) - 1)) * <f32>(1.0 / 32768.0) * (load<f32>(at, 4) - low);
}

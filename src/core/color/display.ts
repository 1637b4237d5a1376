import type { Triple } from './primaries';
import { tableReader, type View, type ViewTable } from './view';

/**
 * A view sped up for the screen with tables over the upper bits of a float, which grow with its value: steps of a tenth of
 * a percent. It agrees with `applyView` to within one 8-bit step.
 */
interface Tables {
  /** The view's curve, light to display. */
  curve: Float32Array;
  /** The byte that a display value of 0 to 1 is shown by, in {@link STEPS} steps. */
  encoded: Uint8Array;
  /** The byte that light is shown by, where the view does not mix channels. */
  bytes: Uint8Array;
}

/** Lower bits of a float that are left out. */
const SHIFT = 13;
const ENTRIES = 0x7f800000 >>> SHIFT;
const STEPS = 16383;
/** Pixels taken together: what is between the passes stays in the nearest cache. */
const CHUNK = 1024;
const OPAQUE = 0xff000000;

const tables = new WeakMap<View, Tables>();

function tablesOf(view: View): Tables {
  const known = tables.get(view);
  if (known) return known;
  const bits = new Uint32Array(1);
  const value = new Float32Array(bits.buffer);
  const curve = Float32Array.from({ length: ENTRIES + 1 }, (_, i) => {
    // The middle of a step.
    bits[0] = (i << SHIFT) + (1 << (SHIFT - 1));
    return view.curve(i < ENTRIES - 1 ? value[0]! : 3e38);
  });
  const byteOf = (display: number): number => Math.round(view.encode(display) * 255);
  const encoded = Uint8Array.from({ length: STEPS + 1 }, (_, i) => byteOf(i / STEPS));
  const bytes = Uint8Array.from(curve, (display) => byteOf(Math.min(1, Math.max(0, display))));
  const made = { curve, encoded, bytes };
  tables.set(view, made);
  return made;
}

/** Scene-linear planes to opaque RGBA bytes for the screen. `gain` multiplies the light first. */
export function displayBytes(
  view: View,
  rgb: readonly Float32Array[],
  gain: number,
): Uint8ClampedArray<ArrayBuffer> {
  const pixels = new Uint32Array(rgb[0]!.length);
  if (view.table) writeThroughTable(view.table, rgb, gain, pixels);
  else if (view.crosstalk === 0) writeUnmixed(tablesOf(view), rgb, gain, pixels);
  else writeMixed(view, rgb, gain, pixels);
  return new Uint8ClampedArray(pixels.buffer);
}

/** Through a look-up table. */
function writeThroughTable(
  table: ViewTable,
  [r, g, b]: readonly Float32Array[],
  gain: number,
  pixels: Uint32Array,
): void {
  const read = tableReader(table);
  const colour: Triple = [0, 0, 0];
  for (let i = 0; i < pixels.length; i++) {
    read(gain * r![i]!, gain * g![i]!, gain * b![i]!, colour);
    const byte = (value: number): number => (value * 255 + 0.5) | 0;
    pixels[i] = OPAQUE | (byte(colour[2]) << 16) | (byte(colour[1]) << 8) | byte(colour[0]);
  }
}

/** Each channel by itself: one table from light to byte. */
function writeUnmixed(
  { bytes }: Tables,
  rgb: readonly Float32Array[],
  gain: number,
  pixels: Uint32Array,
): void {
  const [r, g, b] = rgb as [Float32Array, Float32Array, Float32Array];
  const light = new Float32Array(CHUNK * 3);
  const bits = new Uint32Array(light.buffer);
  for (let first = 0; first < pixels.length; first += CHUNK) {
    const count = Math.min(CHUNK, pixels.length - first);
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      const [red, green, blue] = [r[first + i]!, g[first + i]!, b[first + i]!];
      light[at] = red > 0 ? red * gain : 0;
      light[at + 1] = green > 0 ? green * gain : 0;
      light[at + 2] = blue > 0 ? blue * gain : 0;
    }
    for (let i = 0, at = 0; i < count; i++, at += 3)
      pixels[first + i] =
        OPAQUE |
        (bytes[bits[at + 2]! >>> SHIFT]! << 16) |
        (bytes[bits[at + 1]! >>> SHIFT]! << 8) |
        bytes[bits[at]! >>> SHIFT]!;
  }
}

/** Cross-talk, curve, inverse cross-talk: only compressed highlights lose saturation. */
function writeMixed(view: View, rgb: readonly Float32Array[], gain: number, pixels: Uint32Array): void {
  const [r, g, b] = rgb as [Float32Array, Float32Array, Float32Array];
  const { curve, encoded } = tablesOf(view);
  const mixed = new Float32Array(CHUNK * 3);
  const bits = new Uint32Array(mixed.buffer);
  const lent = (view.crosstalk * 1.5 * gain) / 3;
  const own = gain * (1 - 1.5 * view.crosstalk);
  const inverse = 1 / (1 - 1.5 * view.crosstalk);
  const back = (1 - inverse) / 3;
  const step = (display: number): number =>
    encoded[display > 0 ? (display < 1 ? (display * STEPS + 0.5) | 0 : STEPS) : 0]!;
  for (let first = 0; first < pixels.length; first += CHUNK) {
    const count = Math.min(CHUNK, pixels.length - first);
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      const red = r[first + i]!;
      const green = g[first + i]!;
      const blue = b[first + i]!;
      const all = lent * (red + green + blue);
      const [x, y, z] = [red * own + all, green * own + all, blue * own + all];
      mixed[at] = x > 0 ? x : 0;
      mixed[at + 1] = y > 0 ? y : 0;
      mixed[at + 2] = z > 0 ? z : 0;
    }
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      const red = curve[bits[at]! >>> SHIFT]!;
      const green = curve[bits[at + 1]! >>> SHIFT]!;
      const blue = curve[bits[at + 2]! >>> SHIFT]!;
      const mean = back * (red + green + blue);
      pixels[first + i] =
        OPAQUE |
        (step(blue * inverse + mean) << 16) |
        (step(green * inverse + mean) << 8) |
        step(red * inverse + mean);
    }
  }
}

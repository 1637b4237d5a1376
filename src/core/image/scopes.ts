import type { RgbaImage } from './rgba';

/** Columns and levels of a waveform, sides of a chroma plot, and bins of a histogram. */
const [COLUMNS, LEVELS, CHROMA, BINS] = [256, 128, 128, 256];
/** Rows and pixels of a row of which one is looked at; every other row begins half a step later. */
const STEP = 2;

/** What a picture on the display is made of. */
export interface Scopes {
  /** Pixels by display value, 0 to 255. */
  histogram: { red: number[]; green: number[]; blue: number[] };
  /** Display values by column, bright ones on top: luma, and each channel. */
  luma: RgbaImage;
  channels: RgbaImage;
  /** Colour difference: blue against luma to the right, red upwards; grey in the middle. */
  chroma: RgbaImage;
  /** Share of pixels at the ends of the display's range, of any channel. */
  black: number;
  white: number;
}

/**
 * Histogram, waveforms and chroma of display bytes (RGBA): luma and colour differences by ITU-R BT.709-6 (Y'CbCr). Of every
 * two by two pixels one is looked at.
 */
export function scopesOf({ width, height, pixels }: RgbaImage): Scopes {
  const counts = [0, 1, 2].map(() => new Uint32Array(BINS)) as [Uint32Array, Uint32Array, Uint32Array];
  const luma = new Uint32Array(COLUMNS * LEVELS);
  const waves = [0, 1, 2].map(() => new Uint32Array(COLUMNS * LEVELS)) as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  const chroma = new Uint32Array(CHROMA * CHROMA);
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, width * height);
  const columnOf = Uint8Array.from({ length: width }, (_, x) => Math.floor((x * COLUMNS) / width));
  let [black, white, seen] = [0, 0, 0];
  for (let y = 0; y < height; y += STEP) {
    // A picture of one column is looked at whole.
    for (let x = width > 1 ? (y / STEP) % STEP : 0; x < width; x += STEP) {
      const word = words[y * width + x]!;
      const [r, g, b] = [word & 255, (word >>> 8) & 255, (word >>> 16) & 255];
      const column = columnOf[x]!;
      counts[0][r]!++;
      counts[1][g]!++;
      counts[2][b]!++;
      const y709 = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      luma[(LEVELS - 1 - ((y709 + 0.5) >> 1)) * COLUMNS + column]!++;
      waves[0][(LEVELS - 1 - (r >> 1)) * COLUMNS + column]!++;
      waves[1][(LEVELS - 1 - (g >> 1)) * COLUMNS + column]!++;
      waves[2][(LEVELS - 1 - (b >> 1)) * COLUMNS + column]!++;
      const cb = ((b - y709) / 1.8556 / 255 + 0.5) * (CHROMA - 1);
      const cr = ((r - y709) / 1.5748 / 255 + 0.5) * (CHROMA - 1);
      chroma[(CHROMA - 1 - ((cr + 0.5) | 0)) * CHROMA + ((cb + 0.5) | 0)]!++;
      if (r === 0 || g === 0 || b === 0) black++;
      if (r === 255 || g === 255 || b === 255) white++;
      seen++;
    }
  }
  return {
    histogram: { red: [...counts[0]], green: [...counts[1]], blue: [...counts[2]] },
    luma: paintCounts([luma, luma, luma], COLUMNS, LEVELS, seen),
    channels: paintCounts(waves, COLUMNS, LEVELS, seen),
    chroma: paintCounts([chroma, chroma, chroma], CHROMA, CHROMA, seen / 4),
    black: black / Math.max(1, seen),
    white: white / Math.max(1, seen),
  };
}

/** Counts as brightness, a channel each: the root of the share, so that single pixels show beside whole areas. */
function paintCounts(
  [red, green, blue]: readonly [Uint32Array, Uint32Array, Uint32Array],
  width: number,
  height: number,
  seen: number,
): RgbaImage {
  const pixels = new Uint8ClampedArray(4 * width * height);
  // A column that is all of one value would be as bright as this.
  const full = Math.sqrt(seen / width) / 4 || 1;
  for (let i = 0, at = 0; i < width * height; i++, at += 4) {
    pixels[at] = (230 * Math.sqrt(red[i]!)) / full;
    pixels[at + 1] = (230 * Math.sqrt(green[i]!)) / full;
    pixels[at + 2] = (230 * Math.sqrt(blue[i]!)) / full;
    pixels[at + 3] = 255;
  }
  return { width, height, pixels };
}

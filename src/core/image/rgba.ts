/** An opaque picture for a display: RGBA bytes, `4 * width * height`, row-major, top row first. */
export interface RgbaImage {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

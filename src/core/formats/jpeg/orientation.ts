/** The EXIF orientation of a JPEG, 1 to 8 (CIPA DC-008, section 4.6.4); 1 if it has none. */
export function exifOrientation(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (const { marker, at, size } of segments(bytes)) {
    if (marker !== 0xe1 || size < 16 || view.getUint32(at) !== 0x45786966) continue;
    const tiff = at + 6;
    const little = view.getUint16(tiff) === 0x4949;
    const first = tiff + view.getUint32(tiff + 4, little);
    if (first + 2 > at + size) return 1;
    const entries = view.getUint16(first, little);
    for (let k = 0; k < entries; k++) {
      const entry = first + 2 + 12 * k;
      if (entry + 12 > at + size) break;
      if (view.getUint16(entry, little) !== 0x0112) continue;
      const value = view.getUint16(entry + 8, little);
      return value >= 1 && value <= 8 ? value : 1;
    }
  }
  return 1;
}

export interface Segment {
  marker: number;
  /** Where its content begins, and how long it is. */
  at: number;
  size: number;
}

/** The segments before the picture's data (ITU-T T.81, annex B). */
export function* segments(bytes: Uint8Array): Generator<Segment> {
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1]!;
    if (marker === 0xff) {
      at++;
      continue;
    }
    const length = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    if (marker === 0xda || length < 2 || at + 2 + length > bytes.length) return;
    yield { marker, at: at + 4, size: length - 2 };
    at += 2 + length;
  }
}

/** Turns RGBA pixels so that they stand as the orientation says. */
export function orient(
  rgba: Uint8ClampedArray,
  width: number,
  height: number,
  orientation: number,
): { data: Uint8ClampedArray; width: number; height: number } {
  if (orientation === 1) return { data: rgba, width, height };
  const turned = orientation >= 5;
  const [w, h] = turned ? [height, width] : [width, height];
  const out = new Uint8ClampedArray(rgba.length);
  const from = new Uint32Array(rgba.buffer, rgba.byteOffset, width * height);
  const to = new Uint32Array(out.buffer);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      // The stored column and row of what is seen at x, y.
      const across = turned ? y : x;
      const down = turned ? x : y;
      const column = [2, 3, 7, 8].includes(orientation) ? width - 1 - across : across;
      const row = [3, 4, 6, 7].includes(orientation) ? height - 1 - down : down;
      to[y * w + x] = from[row * width + column]!;
    }
  }
  return { data: out, width: w, height: h };
}

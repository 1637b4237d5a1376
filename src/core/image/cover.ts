import { reduceArea } from './resample';

/**
 * A plane brought to another size so that it covers it, cut evenly at two sides where the shapes differ. Reduced by area,
 * enlarged bilinearly.
 */
export function coverPlane(
  plane: Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  const scale = Math.max(toWidth / width, toHeight / height);
  const shrink = Math.min(1, scale);
  const [w, h] = [Math.max(1, Math.round(width * shrink)), Math.max(1, Math.round(height * shrink))];
  const source = reduceArea(plane, width, height, w, h);
  const grow = scale / shrink;
  const out = new Float32Array(toWidth * toHeight);
  const held = (value: number, most: number): number => Math.min(most, Math.max(0, value));
  for (let y = 0; y < toHeight; y++) {
    const v = held((y + 0.5 - toHeight / 2) / grow + h / 2 - 0.5, h - 1);
    const [top, fy] = [Math.floor(v), v - Math.floor(v)];
    const bottom = Math.min(h - 1, top + 1);
    for (let x = 0; x < toWidth; x++) {
      const u = held((x + 0.5 - toWidth / 2) / grow + w / 2 - 0.5, w - 1);
      const [left, fx] = [Math.floor(u), u - Math.floor(u)];
      const right = Math.min(w - 1, left + 1);
      const above = source[top * w + left]! * (1 - fx) + source[top * w + right]! * fx;
      const below = source[bottom * w + left]! * (1 - fx) + source[bottom * w + right]! * fx;
      out[y * toWidth + x] = above * (1 - fy) + below * fy;
    }
  }
  return out;
}

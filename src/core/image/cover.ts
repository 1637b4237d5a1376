import { bilinearSampler } from './bilinear';
import { resampleArea } from './resample';

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
  const source = resampleArea(plane, width, height, w, h);
  const grow = scale / shrink;
  const sample = bilinearSampler(source, w, h);
  const out = new Float32Array(toWidth * toHeight);
  for (let y = 0; y < toHeight; y++) {
    const v = (y + 0.5 - toHeight / 2) / grow + h / 2 - 0.5;
    for (let x = 0; x < toWidth; x++)
      out[y * toWidth + x] = sample((x + 0.5 - toWidth / 2) / grow + w / 2 - 0.5, v);
  }
  return out;
}

import type { Triple } from '../../color/primaries';
import { tintGains } from '../../color/temperature';
import type { Look } from '../../look/look';
import { powerLawQuadrant, type PowerLaw } from '../../optics/power-law';

/**
 * The bloom of a look on a picture of some size; its far end is the picture's diagonal. Its core is a share of the frame's
 * height, so that overscan does not change the look.
 */
export function bloomLaw(look: Look, width: number, height: number, frameHeight = height): PowerLaw {
  const { radius, falloff } = look.veil.bloom;
  return { core: radius * frameHeight, falloff, reach: Math.hypot(width, height) };
}

/** Gives the rows that a convolution asks for out of one quadrant of a kernel that is even in x and y. */
export function evenKernelRows(
  quadrant: Float32Array,
  width: number,
): (dy: number, out: Float32Array) => void {
  return (dy, out) => {
    const at = Math.abs(dy) * width;
    for (let dx = 0; dx < width; dx++) {
      const value = quadrant[at + dx]!;
      out[width - 1 + dx] = value;
      out[width - 1 - dx] = value;
    }
  };
}

/** What the lens makes of one point of light. */
export interface PointSpread {
  /** Per channel, `width * height`, the source in the middle of pixel (width >> 1, height >> 1). */
  rgb: [Float32Array, Float32Array, Float32Array];
  /** Share of the scattered light that falls outside these planes. */
  outside: number;
}

/**
 * The veil's whole point-spread function, `(1 - w) delta + w K`, of a picture of the given size: what a white point
 * that feeds entirely would become.
 */
export function pointSpread(look: Look, width: number, height: number): PointSpread {
  const { on, mode, bloom } = look.veil;
  const amount = on ? bloom.amount : 0;
  const [cx, cy] = [width >> 1, height >> 1];
  const law = bloomLaw(look, width, height);
  const quadrantWidth = Math.max(cx, width - 1 - cx) + 1;
  const quadrant = powerLawQuadrant(law, quadrantWidth, Math.max(cy, height - 1 - cy) + 1);
  const tint: Triple = tintGains(bloom.tint);
  let inside = 0;
  const rgb = tint.map((gain) => {
    const plane = new Float32Array(width * height);
    inside = 0;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const value = quadrant[Math.abs(y - cy) * quadrantWidth + Math.abs(x - cx)]!;
        inside += value;
        plane[y * width + x] = amount * gain * value;
      }
    }
    plane[cy * width + cx]! += mode === 'keep' ? 1 - amount : 1;
    return plane;
  }) as PointSpread['rgb'];
  return { rgb, outside: amount === 0 ? 0 : Math.max(0, 1 - inside) };
}

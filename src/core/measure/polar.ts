import { luminance, type Triple } from '../color/primaries';
import { decodeSrgb } from '../color/srgb';
import { bilinearSampler } from '../image/bilinear';
import { brightRegions } from '../image/bright-regions';
import type { Rgb } from '../image/rgb';

/** Linear light with its size. */
export interface MeasuredPicture {
  rgb: Rgb;
  width: number;
  height: number;
  /** Light from which on a channel counts as cut off at white; Infinity for scene-linear pictures. */
  clip: number;
  /** What each channel is multiplied by before anything is measured, if it is. */
  gains?: Triple;
}

/** Of eight bits, the last three steps count as cut off: noise and compression lie there as well. */
export const CUT_OFF = decodeSrgb(252.5 / 255);

export const NO_GAINS: Triple = [1, 1, 1];

/** The light's own image, which nothing is measured in. */
export interface LightSource {
  /** Its middle, in pixels; the first pixel's middle is at 0.5. */
  x: number;
  y: number;
  /** Of a disc as large as it, in pixels. */
  radius: number;
  /** Whether its light is cut off at white. */
  isClipped: boolean;
}

/** Light about a source by distance and direction: means over the cells of a polar grid. */
export interface PolarLight {
  /** Middle distances of the rings, in even ratios, in pixels. */
  radii: Float64Array;
  sectors: number;
  /** `rings * sectors`; NaN where the picture ends. */
  luminance: Float64Array;
  rgb: readonly [Float64Array, Float64Array, Float64Array];
  /** Of each ring the share of its cells that are cut off at white. */
  clipped: Float64Array;
}

const RINGS_PER_OCTAVE = 8;
/** Of a source that is not cut off, what is over this share of its peak is its own image. */
const OWN_IMAGE = 0.5;

/** The source nearest to a place: what lies together and is cut off at white, or over half of the peak there. Undefined if it is black. */
export function findSource(
  { rgb, width, height, clip }: MeasuredPicture,
  at: { x: number; y: number },
  radius: number,
): LightSource | undefined {
  const reach = Math.max(3, Math.ceil(radius / 2));
  const [left, top] = [Math.max(0, Math.floor(at.x) - reach), Math.max(0, Math.floor(at.y) - reach)];
  const [right, bottom] = [
    Math.min(width, Math.floor(at.x) + reach + 1),
    Math.min(height, Math.floor(at.y) + reach + 1),
  ];
  const size = { width: right - left, height: bottom - top };
  if (size.width < 1 || size.height < 1) return undefined;
  const crop = rgb.map((plane) => {
    const out = new Float32Array(size.width * size.height);
    for (let y = 0; y < size.height; y++)
      out.set(plane.subarray((top + y) * width + left, (top + y) * width + right), y * size.width);
    return out;
  }) as unknown as Rgb;
  let peak = 0;
  for (let i = 0; i < crop[0].length; i++)
    peak = Math.max(peak, luminance(crop[0][i]!, crop[1][i]!, crop[2][i]!));
  if (!(peak > 0)) return undefined;
  const isClipped = crop.some((plane) => plane.some((value) => value >= clip));
  const threshold = isClipped ? 0.97 * peak : OWN_IMAGE * peak;
  const away = (region: { x: number; y: number; pixels: number }): number =>
    Math.max(
      0,
      Math.hypot(region.x + left - at.x, region.y + top - at.y) - Math.sqrt(region.pixels / Math.PI),
    );
  const [nearest] = brightRegions(crop, size, threshold).sort(
    (a, b) => away(a) - away(b) || b.pixels - a.pixels,
  );
  if (!nearest) return undefined;
  return {
    x: nearest.x + left,
    y: nearest.y + top,
    radius: Math.sqrt(nearest.pixels / Math.PI),
    isClipped,
  };
}

/** Averages the light over the cells of a polar grid, from one distance to another. */
export function polarLight(
  { rgb, width, height, clip, gains = NO_GAINS }: MeasuredPicture,
  { x, y }: Pick<LightSource, 'x' | 'y'>,
  [inner, outer]: readonly [number, number],
  sectors: number,
): PolarLight {
  const rings = Math.max(1, Math.floor(Math.log2(outer / inner) * RINGS_PER_OCTAVE));
  const half = 2 ** (0.5 / RINGS_PER_OCTAVE);
  const radii = Float64Array.from({ length: rings }, (_, k) => inner * half * 2 ** (k / RINGS_PER_OCTAVE));
  const samplers = rgb.map((plane) => bilinearSampler(plane, width, height));
  const planes = [0, 1, 2].map(() => new Float64Array(rings * sectors)) as unknown as PolarLight['rgb'];
  const light = new Float64Array(rings * sectors);
  const clipped = new Float64Array(rings);
  for (const [ring, radius] of radii.entries()) {
    const [near, far] = [radius / half, radius * half];
    const across = Math.max(2, Math.ceil(far - near));
    const along = Math.max(2, Math.ceil((2 * Math.PI * far) / sectors));
    for (let sector = 0; sector < sectors; sector++) {
      const sums = [0, 0, 0];
      let [count, cut] = [0, 0];
      for (let i = 0; i < across; i++) {
        const r = near + ((i + 0.5) / across) * (far - near);
        for (let j = 0; j < along; j++) {
          const angle = (2 * Math.PI * (sector + (j + 0.5) / along)) / sectors;
          const [u, v] = [x + r * Math.cos(angle) - 0.5, y + r * Math.sin(angle) - 0.5];
          if (u < 0 || v < 0 || u > width - 1 || v > height - 1) continue;
          const values = samplers.map((sample) => sample(u, v));
          values.forEach((value, c) => (sums[c]! += value));
          if (values.some((value) => value >= clip)) cut++;
          count++;
        }
      }
      const cell = ring * sectors + sector;
      const isThere = count >= (across * along) / 2;
      planes.forEach((plane, c) => (plane[cell] = isThere ? (gains[c]! * sums[c]!) / count : NaN));
      light[cell] = luminance(planes[0][cell]!, planes[1][cell]!, planes[2][cell]!);
      clipped[ring]! += (isThere && cut > 0 ? 1 : 0) / sectors;
    }
  }
  return { radii, sectors, luminance: light, rgb: planes, clipped };
}

/** The cells of a ring of a plane of a polar grid. */
export const cellsOf = ({ sectors }: PolarLight, plane: Float64Array, ring: number): number[] => [
  ...plane.subarray(ring * sectors, (ring + 1) * sectors),
];

/** The median, and 1.4826 times the median deviation from it (that of a normal spread, Hampel 1974); NaNs are left out. */
export function medianAndSpread(values: readonly number[]): {
  median: number;
  spread: number;
  count: number;
} {
  const there = values.filter((value) => Number.isFinite(value));
  if (there.length === 0) return { median: NaN, spread: NaN, count: 0 };
  const median = middle(there);
  return {
    median,
    spread: 1.4826 * middle(there.map((value) => Math.abs(value - median))),
    count: there.length,
  };
}

function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const at = sorted.length >> 1;
  return sorted.length % 2 ? sorted[at]! : (sorted[at - 1]! + sorted[at]!) / 2;
}

import { resampleArea } from '../../image/resample';
import type { StationContext } from '../../light/station';
import { scaledSize } from '../../light/plate';
import { logTable } from '../../color/tone';
import { MIDDLE_GREY } from '../../color/view';
import type { Look } from '../../look/look';
import { DEVIATIONS_AT_HALF_HEIGHT, normalShare } from '../../optics/gaussian';

/** How fast the share of developed grains rises with exposure about middle grey, per factor e. */
const GAMMA = 0.8;

/**
 * How strong grain is at a tone, 1 at middle grey: the variance of how many of a layer's grains are developed, `p (1 - p)`,
 * with p rising over the logarithm of light as emulsions of grains of many speeds do (binomial; Selwyn 1935). A third is
 * left four stops away.
 */
export function grainStrength(light: number): number {
  const power = (Math.abs(light) / MIDDLE_GREY) ** GAMMA;
  const developed = power / (1 + power);
  return 4 * developed * (1 - developed);
}

let table: Float32Array | undefined;

/** {@link grainStrength} as the grading kernel reads it. */
export function strengthTable(): Float32Array {
  table ??= logTable(grainStrength);
  return table;
}

/** Standard deviations at which a clump ends. */
const END = 3;

/**
 * Weights of the filter that makes clumps of a diameter in pixels (at half their height) of white noise, each the integral
 * over a pixel; their squares sum to 1, so that the variance stays.
 */
export function clumpWeights(diameter: number): Float32Array {
  const deviation = diameter / DEVIATIONS_AT_HALF_HEIGHT;
  const reach = Math.max(0, Math.ceil(END * deviation + 0.5) - 1);
  const raw = Array.from({ length: 2 * reach + 1 }, (_, k) => {
    const [from, to] = [k - reach - 0.5, k - reach + 0.5];
    return normalShare(to / deviation) - normalShare(from / deviation);
  });
  const length = Math.hypot(...raw);
  return Float32Array.from(raw, (weight) => weight / length);
}

/**
 * The noise of a look's grain at a scale: of the full-size picture, and of a smaller one its mean over each pixel, so that a
 * draft looks like the final. It hangs on seed, frame and place in the whole picture alone.
 */
export function grainNoise(look: Look, scale: number, context: StationContext): Promise<Float32Array[]> {
  const { plate, cache, kernels } = context;
  const { size, mono, seed } = look.film.grain;
  const { picture, whole, frame } = plate;
  const diameter = ((size / 1000) * frame.width) / look.camera.sensorWidth;
  const weights = clumpWeights(diameter);
  const { width, height } = picture;
  const full = { width, height, left: -whole.x, top: -whole.y };
  const seeds = (mono ? [0] : [0, 1, 2]).map((layer) => seedOf(seed, plate.frameNumber ?? 0, layer));
  const key = `grain ${JSON.stringify([full, seeds])} ${weights.join()}`;
  const bytes = (planes: Float32Array[]): number =>
    planes.reduce((sum, { byteLength }) => sum + byteLength, 0);
  const small = scaledSize(plate, scale);
  return cache.getOrReplace(
    `grain @${scale}`,
    `${key} @${scale}`,
    async () => {
      const planes = await kernels.grade.noise({ ...full, seeds, weights }, { signal: context.signal });
      if (small.width === width && small.height === height) return planes;
      return planes.map((plane) => resampleArea(plane, width, height, small.width, small.height));
    },
    bytes,
  );
}

/** A whole number for a layer of a frame: another for every seed, frame and layer. */
function seedOf(seed: number, frame: number, layer: number): number {
  let hash = 0x811c9dc5;
  for (const part of [seed, frame, layer]) {
    hash = Math.imul(hash ^ (part & 0xffff), 0x01000193);
    hash = Math.imul(hash ^ (part >>> 16), 0x01000193);
    hash ^= hash >>> 15;
  }
  return hash | 0;
}

import { type Light } from '../../light/light';
import { mapRgb, toRgb, type Rgb } from '../../image/rgb';
import { cutPlane } from '../../light/region';
import type { StationContext } from '../../light/station';
import type { Size } from '../../image/rectangle';
import type { Spectrum } from '../../kernels/convolution';
import { subProgress } from '../../kernels/runtime/parallel';
import { blendPlanes, type Blend } from './blend';
import type { CachedFeed } from './fed-light';

/** Feeds of larger pictures, in pixels, are not kept transformed: each takes 48 bytes a pixel. */
const MAX_TRANSFORMED_PIXELS = 4_000_000;

const spectraBytes = (spectra: readonly Spectrum[]): number =>
  spectra.reduce((sum, { bytes }) => sum + bytes, 0);

/**
 * The feed convolved with a blend's kernel, before the blend's amount and common tint, so that dragging those two reuses
 * it. `padding` is the width of the replicated border in pixels.
 */
export async function scatterFeed(
  source: CachedFeed,
  { width, height }: Light,
  blend: Blend,
  padding: number,
  context: StationContext,
): Promise<Rgb> {
  const padded = { width: width + 2 * padding, height: height + 2 * padding };
  return context.cache.getOrCompute(
    `${source.key} +${padding} scattered ${blend.key}`,
    async () => {
      const spectra = await context.cache.getOrCompute(
        `spectra ${padded.width}x${padded.height} ${blend.key}`,
        () => blendSpectra(blend, padded, { ...context, ...subProgress(context, 0, 0.4) }),
        spectraBytes,
      );
      const planes = await paddedFeed(source, { width, height }, padding, context);
      const convolved = await context.kernels.convolution.convolve(
        planes,
        spectra,
        subProgress(context, 0.5, 1),
      );
      const inside = { x: padding, y: padding, width, height };
      return mapRgb(toRgb(convolved), (plane) => (padding ? cutPlane(plane, padded.width, inside) : plane));
    },
    (planes) => planes.length * planes[0].byteLength,
  );
}

/** The fed planes with their border, or their transforms once the feed meets a second kernel. */
async function paddedFeed(
  { feed, key }: CachedFeed,
  { width, height }: Size,
  padding: number,
  { cache, kernels, ...options }: StationContext,
): Promise<readonly (Float32Array | Spectrum)[]> {
  const padded = { width: width + 2 * padding, height: height + 2 * padding };
  const planes = (): Float32Array[] => feed.rgb.map((plane) => padEdges(plane, width, height, padding));
  const isFirst = cache.isFirst(`${key} +${padding} met a kernel`);
  if (isFirst || padded.width * padded.height > MAX_TRANSFORMED_PIXELS) return planes();
  return cache.getOrCompute(
    `${key} +${padding} transformed`,
    () =>
      kernels.convolution.transform(padded.width, padded.height, planes(), subProgress(options, 0.4, 0.5)),
    spectraBytes,
  );
}

/** A plane with its edge pixels replicated by `padding` pixels on all sides. */
function padEdges(plane: Float32Array, width: number, height: number, padding: number): Float32Array {
  if (padding === 0) return plane;
  const across = width + 2 * padding;
  const out = new Float32Array(across * (height + 2 * padding));
  for (let y = 0; y < height + 2 * padding; y++) {
    const from = Math.min(height - 1, Math.max(0, y - padding)) * width;
    const at = y * across;
    out.fill(plane[from]!, at, at + padding);
    out.set(plane.subarray(from, from + width), at + padding);
    out.fill(plane[from + width - 1]!, at + padding + width, at + across);
  }
  return out;
}

/** The spectra of a blend's kernel for planes of a size: one for all channels, or one for each. */
async function blendSpectra(
  blend: Blend,
  { width, height }: Size,
  { cache, kernels, ...options }: StationContext,
): Promise<Spectrum[]> {
  const made = [];
  for (const { part } of blend.members)
    made.push(
      await cache.getOrCompute(
        `kernel ${width}x${height} ${part.name} ${part.key}`,
        () => part.kernels(width, height),
        (kernel) => kernel.reduce((sum, { bytes }) => sum + bytes, 0),
      ),
    );
  const all = blendPlanes(blend, made);
  const spectra: Spectrum[] = [];
  for (const [index, planes] of all.entries()) {
    const share = subProgress(options, index / all.length, (index + 1) / all.length);
    spectra.push(await kernels.convolution.prepare(width, height, planes, share));
  }
  return spectra;
}

import { type Light } from '../../light/light';
import { toRgb, type Rgb } from '../../image/rgb';
import { cutPlane } from '../../light/region';
import type { StationContext } from '../../light/station';
import type { Size } from '../../image/rectangle';
import type { KernelPlane, Spectrum } from '../../kernels/convolution';
import { subProgress } from '../../kernels/runtime/parallel';
import { blendPlanes, type Blend } from './blend';
import type { CachedFeed } from './fed-light';

/** Of larger pictures, in pixels, neither feeds nor kernels are kept transformed: each takes 48 bytes a pixel. */
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
      const isLarge = padded.width * padded.height > MAX_TRANSFORMED_PIXELS;
      const convolve = isLarge ? convolveByChannel : convolveKept;
      return toRgb((await convolve(source, padded, blend, padding, context)).map(withoutRounding));
    },
    (planes) => planes.length * planes[0].byteLength,
  );
}

/** Neither feeds nor kernels are below zero: what the transforms leave there is rounding, which a gamma would make much of. */
function withoutRounding(plane: Float32Array): Float32Array {
  for (let i = 0; i < plane.length; i++) if (plane[i]! < 0) plane[i] = 0;
  return plane;
}

/** Convolves with spectra that are kept for the next feed. */
async function convolveKept(
  source: CachedFeed,
  padded: Size,
  blend: Blend,
  padding: number,
  context: StationContext,
): Promise<Float32Array[]> {
  const spectra = await context.cache.getOrCompute(
    `spectra ${padded.width}x${padded.height} ${blend.key}`,
    () => blendSpectra(blend, padded, { ...context, ...subProgress(context, 0, 0.4) }),
    spectraBytes,
  );
  const planes = await paddedFeed(source, padded, padding, context);
  const convolved = await context.kernels.convolution.convolve(planes, spectra, subProgress(context, 0.5, 1));
  return convolved.map((plane) => cutEdges(plane, padded, padding));
}

/** Convolves one channel after the other, so that a large picture needs the memory of one spectrum. */
async function convolveByChannel(
  { feed }: CachedFeed,
  padded: Size,
  blend: Blend,
  padding: number,
  context: StationContext,
): Promise<Float32Array[]> {
  const { convolution } = context.kernels;
  const { width, height } = padded;
  const kernels = await blendKernels(blend, padded, context);
  const size = { width: width - 2 * padding, height: height - 2 * padding };
  const out: Float32Array[] = [];
  const source = padding ? new Float32Array(width * height) : undefined;
  let spectrum: Spectrum | undefined;
  try {
    for (const [c, plane] of feed.rgb.entries()) {
      const share = subProgress(context, c / 3, (c + 1) / 3);
      if (c < kernels.length) {
        spectrum?.dispose();
        spectrum = await convolution.prepare(width, height, kernels[c]!, subProgress(share, 0, 0.4));
        kernels[c] = [];
      }
      const fed = padEdges(plane, size.width, size.height, padding, source);
      const convolved = await convolution.convolve([fed], [spectrum!], subProgress(share, 0.4, 1));
      out.push(cutEdges(convolved[0]!, padded, padding));
    }
  } finally {
    spectrum?.dispose();
  }
  return out;
}

/** The fed planes with their border, or their transforms once the feed meets a second kernel. */
async function paddedFeed(
  { feed, key }: CachedFeed,
  padded: Size,
  padding: number,
  { cache, kernels, ...options }: StationContext,
): Promise<readonly (Float32Array | Spectrum)[]> {
  const [width, height] = [padded.width - 2 * padding, padded.height - 2 * padding];
  const planes = (): Float32Array[] => feed.rgb.map((plane) => padEdges(plane, width, height, padding));
  const isFirst = cache.isFirst(`${key} +${padding} met a kernel`);
  if (isFirst) return planes();
  return cache.getOrCompute(
    `${key} +${padding} transformed`,
    () =>
      kernels.convolution.transform(padded.width, padded.height, planes(), subProgress(options, 0.4, 0.5)),
    spectraBytes,
  );
}

/** A plane with its edge pixels replicated by `padding` pixels on all sides, in `out`. Without any, it is the plane itself. */
function padEdges(
  plane: Float32Array,
  width: number,
  height: number,
  padding: number,
  out = new Float32Array(padding ? (width + 2 * padding) * (height + 2 * padding) : 0),
): Float32Array {
  if (padding === 0) return plane;
  const across = width + 2 * padding;
  for (let y = 0; y < height + 2 * padding; y++) {
    const from = Math.min(height - 1, Math.max(0, y - padding)) * width;
    const at = y * across;
    out.fill(plane[from]!, at, at + padding);
    out.set(plane.subarray(from, from + width), at + padding);
    out.fill(plane[from + width - 1]!, at + padding + width, at + across);
  }
  return out;
}

/** What lies within the edges that were replicated. */
function cutEdges(plane: Float32Array, { width, height }: Size, padding: number): Float32Array {
  if (padding === 0) return plane;
  const inside = { x: padding, y: padding, width: width - 2 * padding, height: height - 2 * padding };
  return cutPlane(plane, width, inside);
}

/** The planes of a blend's kernel for a size: for all channels, or for each. */
async function blendKernels(
  blend: Blend,
  { width, height }: Size,
  { cache }: StationContext,
): Promise<KernelPlane[][]> {
  const made = [];
  for (const { part } of blend.members)
    made.push(
      await cache.getOrCompute(
        `kernel ${width}x${height} ${part.name} ${part.key}`,
        () => part.kernels(width, height),
        (kernel) => kernel.reduce((sum, { bytes }) => sum + bytes, 0),
      ),
    );
  return blendPlanes(blend, made);
}

/** The spectra of a blend's kernel for planes of a size: one for all channels, or one for each. */
async function blendSpectra(blend: Blend, size: Size, context: StationContext): Promise<Spectrum[]> {
  const all = await blendKernels(blend, size, context);
  const spectra: Spectrum[] = [];
  for (const [index, planes] of all.entries()) {
    const share = subProgress(context, index / all.length, (index + 1) / all.length);
    spectra.push(await context.kernels.convolution.prepare(size.width, size.height, planes, share));
  }
  return spectra;
}

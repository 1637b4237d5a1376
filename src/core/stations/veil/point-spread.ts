import { SettingError } from '../../errors';
import { ContentCache } from '../../light/cache';
import type { Size } from '../../image/rectangle';
import type { Look } from '../../look/look';
import { PARTS, partPaths, veilParts, type VeilPart } from './parts';
import type { PartContext } from './parts/part';

/** What a look's kernel needs besides its size. */
export type KernelContext = Pick<PartContext, 'diffraction'> &
  Partial<Pick<PartContext, 'cache' | 'signal' | 'image' | 'draft'>>;

/** The parts of a look's veil for a picture of a size that is all frame. */
export const partsForSize = (look: Look, size: Size, context: KernelContext): VeilPart[] =>
  veilParts(look, {
    size,
    frame: { x: 0, y: 0, ...size },
    cache: new ContentCache(0),
    draft: false,
    frameNumber: 0,
    ...context,
  });

/** What the lens makes of one point of light. */
export interface PointSpread {
  /** Per channel, `width * height`, the source in the middle of pixel (width >> 1, height >> 1). */
  rgb: [Float32Array, Float32Array, Float32Array];
  /** Share of the scattered light that falls outside these planes. */
  outside: number;
}

/**
 * The veil's whole point-spread function, `(1 - sum w) delta + sum w K`, of a picture of the given size: what a white
 * point that feeds entirely would become. Of a single part (`veil.bloom`) it is that part's own kernel, whatever its
 * amount. Modulated parts (dirt) count with their mean. Throws {@link SettingError} for a part that is not there.
 */
export async function pointSpread(
  look: Look,
  { width, height }: Size,
  context: KernelContext,
  only?: string,
): Promise<PointSpread> {
  const paths = partPaths(look);
  if (only !== undefined && !paths.includes(only))
    throw new SettingError(`the veil has no part ${only}`, { todo: `It has ${paths.join(', ')}` });
  const { on, mode } = look.veil;
  const parts = partsForSize(only ? withPartEnabled(look, only) : look, { width, height }, context).filter(
    ({ name, amount }) => (only ? name === only : on && amount > 0),
  );
  const [cx, cy] = [width >> 1, height >> 1];
  const rgb = [0, 1, 2].map(() => new Float32Array(width * height)) as PointSpread['rgb'];
  let [scattered, inside] = [0, 0];
  for (const part of parts) {
    const amount = only ? 1 : part.amount;
    const { gains, sums = [1, 1, 1] } = part;
    const kernels = await part.kernels(width, height);
    const row = new Float32Array(2 * width - 1);
    rgb.forEach((plane, c) => {
      const { rows } = kernels[c % kernels.length]!;
      for (let y = 0; y < height; y++) {
        rows(y - cy, row);
        for (let x = 0; x < width; x++) {
          const value = amount * row[width - 1 + x - cx]!;
          plane[y * width + x]! += gains[c]! * value;
          inside += value / (3 * sums[c]!);
        }
      }
    });
    scattered += amount;
  }
  if (!only) for (const plane of rgb) plane[cy * width + cx]! += mode === 'keep' ? 1 - scattered : 1;
  return { rgb, outside: scattered === 0 ? 0 : Math.max(0, 1 - inside / scattered) };
}

/** The look with one part of its veil on, so that its kernel can be had whatever its switch and amount say. */
function withPartEnabled(look: Look, path: string): Look {
  const enable = <T extends object>(part: T): T => ({ ...part, on: true, amount: 1 });
  const veil = PARTS.reduce((changed, { id }) => {
    const key = id as 'bloom' | 'stack';
    const settings = changed[key];
    if (path === `veil.${id}`) return { ...changed, [key]: enable(settings) };
    if (!Array.isArray(settings)) return changed;
    const list = settings.map((entry, index) => (path === `veil.${id}[${index}]` ? enable(entry) : entry));
    return { ...changed, [key]: list };
  }, look.veil);
  return { ...look, veil };
}

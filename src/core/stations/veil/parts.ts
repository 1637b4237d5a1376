import type { ContentCache } from '../../bench/cache';
import type { KernelRows } from '../../kernels/convolution';
import type { Look } from '../../look/look';
import { powerLawQuadrant } from '../../optics/power-law';
import { bloomLaw, evenKernelRows } from './bloom';
import { halfKernelRows, onPixels, spikeImages, spikeKey, spikeUnit } from './spikes';

/** One way in which the lens scatters: how much, in which colour, and over which kernel. */
export interface VeilPart {
  name: 'veil.bloom' | 'veil.spikes';
  amount: number;
  /** Kelvin. */
  tint: number;
  /** Equal keys mean equal kernels. */
  key: string;
  /** The kernel for planes of a size: one, or one for each channel. */
  kernels(width: number, height: number): KernelRows[] | Promise<KernelRows[]>;
}

interface Size {
  width: number;
  height: number;
}

/** The parts of a look's veil on a picture of some size, whose frame goes by `frame`. */
export function veilParts(look: Look, { width, height }: Size, frame: Size, cache: ContentCache): VeilPart[] {
  const { bloom, spikes } = look.veil;
  const law = bloomLaw(look, width, height, frame.height);
  const unit = spikeUnit(look, frame.width);
  return [
    {
      ...{ name: 'veil.bloom', amount: bloom.amount, tint: bloom.tint },
      key: JSON.stringify(law),
      kernels: (w, h) => [evenKernelRows(powerLawQuadrant(law, w, h), w)],
    },
    {
      ...{ name: 'veil.spikes', amount: spikes.amount, tint: spikes.tint },
      key: `${spikeKey(look)} ${unit}`,
      async kernels(w, h) {
        const images = await cache.take(
          `white image ${spikeKey(look)}`,
          () => spikeImages(look),
          (made) => made.reduce((sum, { density }) => sum + density.byteLength, 0),
        );
        return onPixels(images, w, h, unit).map(halfKernelRows);
      },
    },
  ];
}

import type { Triple } from '../../color/primaries';
import type { PixelKernel } from './parts/pixel-kernel';
import type { KernelPlane } from '../../kernels/convolution';
import type { VeilPart } from './parts';

/** Parts that scatter the same light, as one kernel. `amount` is the share it scatters in all, `gains` the tint they share. */
export interface Blend {
  parts: readonly VeilPart[];
  /** Share of the fed light. */
  amount: number;
  gains: Triple;
  members: readonly { part: VeilPart; share: number; gains: Triple }[];
  /** Equal keys mean equal kernels. */
  key: string;
}

const NO_TINT: Triple = [1, 1, 1];

/** Combines parts into one kernel. `amount` and `gains` stay out of its key, so that dragging them reuses the convolution. */
export function blendOf(parts: readonly VeilPart[]): Blend {
  const amount = parts.reduce((sum, part) => sum + part.amount, 0);
  const first = parts[0]!.gains;
  const alike = parts.every(({ gains }) => gains.every((value, c) => value === first[c]));
  const members = parts.map((part) => ({
    part,
    share: part.amount / amount,
    gains: alike ? NO_TINT : part.gains,
  }));
  return {
    parts,
    amount,
    members,
    gains: alike ? first : NO_TINT,
    key: members.map(({ part, share, gains }) => [part.name, part.key, share, gains].join(' ')).join(' + '),
  };
}

/** The planes of a blend's kernels, for all channels or for each. `kernels` are those of its members, in order. */
export function blendPlanes(
  { members }: Blend,
  kernels: readonly (readonly PixelKernel[])[],
): KernelPlane[][] {
  const grey = members.every(({ gains }) => gains === NO_TINT) && kernels.every(({ length }) => length === 1);
  return (grey ? [0] : [0, 1, 2]).map((c) =>
    members.map(({ share, gains }, m) => ({
      ...kernels[m]![c % kernels[m]!.length]!.plane,
      gain: share * gains[c]!,
    })),
  );
}

/** The sum of a blend's kernel, per channel. */
export const kernelSums = ({ members }: Blend): Triple =>
  [0, 1, 2].map((c) =>
    members.reduce((sum, { part, share, gains }) => sum + share * gains[c]! * (part.sums?.[c] ?? 1), 0),
  ) as Triple;

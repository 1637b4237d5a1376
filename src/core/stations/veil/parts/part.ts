import type { Triple } from '../../../color/primaries';
import type { ContentCache } from '../../../light/cache';
import type { Images } from '../../../light/image';
import type { DiffractionKernel } from '../../../kernels/diffraction';
import type { RunOptions } from '../../../kernels/runtime/parallel';
import type { Rectangle, Size } from '../../../image/rectangle';
import type { Look } from '../../../look/look';
import type { PixelKernel } from './pixel-kernel';

/** More of the light over a second threshold. */
export interface FeedBoost {
  /** At least 1. */
  gain: number;
  above: number;
}

export type FeedSettings = Look['veil']['feed'] & { boost?: FeedBoost };

/** One way in which the lens scatters: how much of which light, in which colour, and over which kernel. */
export interface VeilPart {
  /** Path of its settings in the look, and the name of its separation. */
  name: string;
  amount: number;
  /** Of the light that it spreads: gains a channel, and saturation. */
  gains: Triple;
  saturation: number;
  /** The light it may use. */
  feed: FeedSettings;
  /** Whether that is a feed of its own. */
  ownFeed: boolean;
  /** Equal keys mean equal kernels. */
  key: string;
  /** The light of each channel's kernel; 1 if missing. The luminance of white is always 1. */
  sums?: Triple;
  /** The kernel for planes of a size: one, or one for each channel. */
  kernels(width: number, height: number): readonly PixelKernel[] | Promise<readonly PixelKernel[]>;
  /** Share of the scattered light that is seen, per pixel, about 1 in the mean; if missing, all of it. */
  modulation?: (size: Size) => Promise<Float32Array>;
}

/** What parts are made from, besides the look. */
export interface PartContext extends RunOptions, Images {
  /** Of the picture whose light is scattered, in its pixels. */
  size: Size;
  /** The frame, whose height lengths are shares of. */
  frame: Rectangle;
  cache: ContentCache;
  diffraction: DiffractionKernel;
  /** The number of the frame in its sequence; 0 of a single picture. */
  frameNumber: number;
  /** Less detail will do. */
  draft: boolean;
}

/** Makes the parts of one kind that a look has, those that are off as well. */
export type PartFactory = (look: Look, context: PartContext) => (VeilPart & { on: boolean })[];

/** A kind of part. */
export interface PartDefinition {
  /** Its section of the look below `veil`: a group of settings, or a list of such groups. */
  id: string;
  /** Whether what it scatters counts as veiling glare: spikes are the pupil's own image, diffusion is a filter. */
  isGlare: boolean;
  make: PartFactory;
}

type Own = FeedSettings & { own: boolean };

/** The feed of a part: its own, if it has one, or the common one. */
export function feedOf(look: Look, { own, ...feed }: Own): Pick<VeilPart, 'feed' | 'ownFeed'> {
  return { feed: own ? feed : look.veil.feed, ownFeed: own };
}

export const diagonal = ({ width, height }: Size): number => Math.hypot(width, height);

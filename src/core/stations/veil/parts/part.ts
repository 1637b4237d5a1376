import type { ContentCache } from '../../../bench/cache';
import type { Images } from '../../../bench/image';
import type { TaskRunner, RunOptions } from '../../../kernels/runtime/parallel';
import type { Size } from '../../../image/frame';
import type { Look } from '../../../look/look';
import type { PixelKernel } from './pixel-kernel';

export type FeedSettings = Look['veil']['feed'];

/** One way in which the lens scatters: how much of which light, in which colour, and over which kernel. */
export interface VeilPart {
  /** Path of its settings in the look, and the name of its separation. */
  name: string;
  amount: number;
  /** Kelvin. */
  tint: number;
  /** The light it may use. */
  feed: FeedSettings;
  /** Whether that is a feed of its own. */
  ownFeed: boolean;
  /** Equal keys mean equal kernels. */
  key: string;
  /** The kernel for planes of a size: one, or one for each channel. */
  kernels(width: number, height: number): readonly PixelKernel[] | Promise<readonly PixelKernel[]>;
  /** Per pixel what of its light is seen there, about 1 in the mean; without it, all. */
  seen?: (size: Size) => Promise<Float32Array>;
}

/** What parts are made from, besides the look. */
export interface PartContext extends RunOptions, Images {
  /** Of the picture whose light is scattered, in its pixels. */
  size: Size;
  /** The frame, whose height lengths are shares of. */
  frame: Size & { x: number; y: number };
  cache: ContentCache;
  parallel: TaskRunner;
  /** Less detail will do. */
  draft: boolean;
}

/** A kind of part: gives those that a look has, those that are off as well. */
export type PartKind = (look: Look, context: PartContext) => (VeilPart & { on: boolean })[];

type Own = FeedSettings & { own: boolean };

/** The feed of a part: its own, if it has one, or the common one. */
export function feedOf(look: Look, { own, ...feed }: Own): Pick<VeilPart, 'feed' | 'ownFeed'> {
  return { feed: own ? feed : look.veil.feed, ownFeed: own };
}

export const diagonal = ({ width, height }: Size): number => Math.hypot(width, height);

import type { Size } from '../../image/rectangle';
import type { Look } from '../../look/look';
import { distort, foldRadius } from '../../optics/distortion';
import { frameScale, isDistorted, sourceRadius } from './warp';

/** A place in the frame: shares of its width and height. */
type Place = readonly [u: number, v: number];

/** Where places of the plate are seen, and where what is seen lies on the plate. */
export interface SeenPlaces {
  toSeen(place: Place): [u: number, v: number];
  toPlate(place: Place): [u: number, v: number];
}

/** How the distortion of a look moves places of a frame, at the d line; undefined if it moves none. */
export function seenPlaces(look: Look, { width, height }: Size): SeenPlaces | undefined {
  if (!look.glass.on || !isDistorted(look)) return undefined;
  const half = Math.hypot(width, height) / 2;
  const fold = foldRadius(look.glass);
  const shrink = frameScale(look);
  /** Moves a place along its ray from the axis. */
  const along =
    (radiusOf: (r: number) => number) =>
    ([u, v]: Place): [u: number, v: number] => {
      const r = Math.hypot((u - 0.5) * width, (v - 0.5) * height) / half;
      const ratio = r > 0 ? radiusOf(r) / r : 1;
      return [0.5 + ratio * (u - 0.5), 0.5 + ratio * (v - 0.5)];
    };
  return {
    // What lies beyond a fold is held at it.
    toSeen: along((r) => distort(look.glass, Math.min(r, fold)) / shrink),
    toPlate: along((r) => sourceRadius(look, r)),
  };
}

import type { Size } from '../../image/rectangle';
import type { Look } from '../../look/look';
import { distort, foldRadius } from '../../optics/distortion';
import { frameScale, isMoved, shakeMove, sourceRadius } from './warp';

/** A place in the frame: shares of its width and height. */
type Place = readonly [u: number, v: number];

/** Where places of the plate are seen, and where what is seen lies on the plate. */
export interface SeenPlaces {
  toSeen(place: Place): [u: number, v: number];
  toPlate(place: Place): [u: number, v: number];
}

/** How distortion and shake of a look move places of a frame, at the d line; undefined if they move none. */
export function seenPlaces(look: Look, { width, height }: Size): SeenPlaces | undefined {
  if (!isMoved(look)) return undefined;
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
  // What lies beyond a fold is held at it.
  const distorted = along((r) => distort(look.glass, Math.min(r, fold)) / shrink);
  const straight = along((r) => sourceRadius(look, r));
  const { xx, xy, yx, yy, x0, y0 } = shakeMove(look, height);
  const size = xx * yy - xy * yx;
  return {
    toSeen: ([u, v]) => {
      const [x, y] = [(u - 0.5) * width - x0, (v - 0.5) * height - y0];
      return distorted([0.5 + (yy * x - xy * y) / size / width, 0.5 + (xx * y - yx * x) / size / height]);
    },
    toPlate: (place) => {
      const [u, v] = straight(place);
      const [x, y] = [(u - 0.5) * width, (v - 0.5) * height];
      return [0.5 + (xx * x + xy * y + x0) / width, 0.5 + (yx * x + yy * y + y0) / height];
    },
  };
}

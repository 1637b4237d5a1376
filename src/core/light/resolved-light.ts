import type { Triple } from '../color/primaries';

/** A light as ghosts, shafts and veil take it. */
export interface ResolvedLight {
  name: string;
  /** Its place in the look's list, or among those found. */
  index: number;
  isFound: boolean;
  /** On the frame, as shares of width and height from the top left. */
  x: number;
  y: number;
  /** Light in full-size pixels of value 1, per channel: colour, gain, group and cone in it, visibility not. */
  flux: Triple;
  /** Diameter, share of the picture height. */
  size: number;
  /** Along the axis in metres; undefined if it is not known. */
  distance: number | undefined;
  /** Share of its disc that nothing covers, 0 to 1. */
  visibility: number;
  /** Of one that was found: share of its disc that nothing nearer covers, which its light tells of already. */
  uncovered?: number;
  /** Multiply what ghosts, shafts and air, and the veil, take of it. */
  flare: number;
  veil: number;
}

/** The frames up to so many before and after one, as offsets from it. */
export const offsetsAround = (reach: number): number[] =>
  Array.from({ length: 2 * reach + 1 }, (_, k) => k - reach).filter((offset) => offset !== 0);

/** The lights of a frame near the one that is computed. */
export interface NearbyLights {
  /** Frames after it; before it, negative. */
  offset: number;
  /** As they were sighted: also those found that are not among the brightest, at a visibility of 0. */
  lights: readonly ResolvedLight[];
}

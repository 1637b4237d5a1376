import type { Rgb } from '../../image/rgb';
import type { Triple } from '../../color/primaries';
import type { RunOptions } from '../runtime/parallel';

/** Steps of a table of what goes on at a surface, over the cosine of the ray's angle. */
export const TABLE_STEPS = 64;

/** A path that light takes at one wavelength. */
export interface GhostPath {
  /** Whether places are affine images of the start (rays near the axis) instead of following from Snell's law. */
  affine: boolean;
  /** How many surfaces are met. */
  meetings: number;
  /**
   * Exact: for each meeting the gap before it, the curvature, the ratio of indices (0 reflects), one over the semi-aperture,
   * whether it is the stop, and the way (1 or -1); then the gap to the sensor. Affine: scale, two offsets and the weight on
   * the sensor, then scale, two offsets (in semi-apertures) and whether it is the stop, of each meeting.
   */
  legs: Float32Array;
  /** Exact: for each meeting `TABLE_STEPS + 1` shares that go on, by the cosine from 0 to 1; none where all does. */
  tables: readonly (Float32Array | undefined)[];
}

/** Numbers of {@link GhostPath.legs} a meeting has. */
export const LEG_NUMBERS = 6;
export const AFFINE_NUMBERS = 4;

/** Where rays start, on the plane of the first vertex: the middle of a rectangle and half its sides, mm. */
export interface StartArea {
  x: number;
  y: number;
  halfX: number;
  halfY: number;
}

/** The rays of one light that may become a ghost. */
export interface GhostRays {
  /** Of length 1, towards the lens; x to the right, y down. */
  direction: Triple;
  start: StartArea;
  path(wavelength: number): GhostPath;
}

/** Where a ghost lies: millimetres from the axis in the upright picture, without any blur. */
export interface GhostBounds {
  left: number;
  top: number;
  right: number;
  bottom: number;
  /** The most that the first of the asked wavelengths lies apart from the others. */
  apart: number;
  /** The start area, narrowed to what comes through. */
  start: StartArea;
}

/** A ghost to be drawn. */
export interface GhostDrawing {
  rays: GhostRays;
  bounds: GhostBounds;
  /** Standard deviation of its blur, mm. */
  blur: number;
  /** What a square millimetre of the entrance brings to red, green and blue, by wavelength. */
  colours: readonly { wavelength: number; weight: Triple }[];
}

/** The pixels to be drawn on. */
export interface GhostRaster {
  width: number;
  height: number;
  /** Pixels a millimetre on the sensor, and where its axis meets them. */
  pitch: number;
  axisX: number;
  axisY: number;
}

/** What the stop lets through on the square about its disc, y down: `size * size` shares. `size` is a power of two. */
export interface StopMask {
  plane: Float32Array;
  size: number;
}

/** Images of the aperture by reflections, from rays. The result does not depend on the number of threads. */
export interface GhostKernel {
  /** Where ghosts lie, by three wavelengths; undefined for those of which no ray comes through. `nodes` rays along each side are tried. */
  survey(
    rays: readonly GhostRays[],
    wavelengths: readonly [number, number, number],
    nodes: number,
    options?: RunOptions,
  ): Promise<(GhostBounds | undefined)[]>;
  /** The light that comes through, square millimetres of the entrance: of each ghost, by wavelength. */
  measure(
    ghosts: readonly Pick<GhostDrawing, 'rays' | 'bounds'>[],
    wavelengths: readonly number[],
    mask: StopMask,
    nodes: number,
    options?: RunOptions,
  ): Promise<number[][]>;
  /** All ghosts on one picture. */
  draw(
    ghosts: readonly GhostDrawing[],
    raster: GhostRaster,
    mask: StopMask,
    nodes: number,
    options?: RunOptions,
  ): Promise<Rgb>;
}

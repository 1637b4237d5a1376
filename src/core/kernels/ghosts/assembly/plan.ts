/**
 * What one step works on: a ghost, a group of ghosts, or a sum of groups. The module's caller writes the fields that the step
 * reads. Lengths in the lens are millimetres; pixels are those of the ghost's level.
 */
@unmanaged
export class Plan {
  /** Of each wavelength: the legs of its path (class Leg), `legCount` of them, and what it brings to red, green and blue, four floats. */
  legs: usize;
  legCount: i32;
  wavelengths: i32;
  colours: usize;
  /** Whether legs are those of rays near the axis (class Affine, `legCount` crossings behind a head) instead of exact ones. */
  affine: i32;
  /** Direction of the light, of length 1. */
  directionX: f32;
  directionY: f32;
  directionZ: f32;
  /** Where rays start, on the plane of the first vertex: the middle of a rectangle and half its sides. */
  middleX: f32;
  middleY: f32;
  halfX: f32;
  halfY: f32;
  /** Rays along each side. */
  nodes: i32;
  /**
   * What the stop lets through: planes of half the size each, one after the other, the first `maskSize` pixels wide, each
   * with MASK_MARGIN dark pixels about it; and the least and the most of it in BLOCKS times BLOCKS squares.
   */
  mask: usize;
  blocks: usize;
  maskSize: i32;
  maskLevels: i32;
  /** Interpolation weights for 1 up to MOST_PARTS parts of a cell, four floats each. */
  weights: usize;
  /** Pixels a millimetre, and where the axis meets the plane of pixels. */
  pitch: f32;
  axisX: f32;
  axisY: f32;
  /** Standard deviation of the blur on top of that of drawing, and the distance of samples, pixels. */
  blur: f32;
  spacing: f32;
  /** The pixels of its group, four floats each: red, green, blue, and nothing. */
  pixels: usize;
  left: i32;
  top: i32;
  width: i32;
  height: i32;
  /** Results of a survey: bounds in pixels (left, top, right, bottom), the most that colours lie apart, and whether anything comes through. */
  bounds: usize;
  apart: f32;
  lit: i32;
  /** Of each wavelength the light that comes through, square millimetres of the entrance, as doubles. */
  flux: usize;
  /** Addresses of the plans of a group's ghosts, or of a level's groups, and how many. */
  ghosts: usize;
  ghostCount: i32;
  /** A sum: the level above (0: none) with its margin. */
  above: usize;
  aboveWidth: i32;
  level: usize;
  levelWidth: i32;
  columns: i32;
}

/** A meeting of a path with a surface. */
@unmanaged
export class Leg {
  /** From the vertex before to this one, along the axis. */
  gap: f32;
  curvature: f32;
  /** Index before over that behind; 0 reflects. */
  ratio: f32;
  /** One over the semi-aperture. */
  rim: f32;
  /** 1 if it is the stop. */
  stop: f32;
  /** 1 along the axis, -1 against it. */
  way: f32;
  /** What goes on by the cosine of the ray's angle: TABLE + 1 floats from 0 to 1; 0 if all does. */
  table: usize;
  unused: f32;
}

/** What stands before the crossings of a path near the axis: the place on the sensor is `scale * start + offset`. */
@unmanaged
export class AffineHead {
  scale: f32;
  offsetX: f32;
  offsetY: f32;
  weight: f32;
}

/** Where a path near the axis crosses a surface, in semi-apertures: `scale * start + offset`. */
@unmanaged
export class AffineCrossing {
  scale: f32;
  offsetX: f32;
  offsetY: f32;
  stop: f32;
}

/** Steps of a table over the cosine. */
export const TABLE: i32 = 64;
/** Bytes of a ray that came through: place on the sensor, weight, how near it came to an edge, and up to three crossings of the stop. */
export const NODE: usize = 48;
/** Most parts along each side of a cell. */
export const MOST_PARTS: i32 = 32;
/** Dark pixels about a mask, and squares along its side of which the extremes are known. */
export const MASK_MARGIN: i32 = 2;
export const BLOCKS: i32 = 64;

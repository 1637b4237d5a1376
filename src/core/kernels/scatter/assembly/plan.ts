/**
 * Where everything of one surface of a picture lies in memory. The module's caller writes it, field by field in this order; every
 * field takes four bytes. Strips are bands of STRIP rows; pieces are the surface's own pixels (by number), after them
 * what was added to them, with room for a strip's worth each. Surfaces of one picture share layers, cells and discs.
 */
@unmanaged
export class Plan {
  width: i32;
  height: i32;
  /** Light as it came, one float plane a channel; the result takes its place. */
  red: usize;
  green: usize;
  blue: usize;
  /** How much of each pixel the surface takes up, which its light is multiplied by; 0 if it is all of each. */
  coverage: usize;
  /** The plan of the surface behind it; 0 for the last. */
  next: usize;
  /** How many surfaces there are from this one on. */
  surfaces: i32;
  /** Signed blur radius in pixels. */
  radius: usize;
  /** A byte a pixel: 1 if parts of the surface at different distances meet in it, PARTIAL if it is not all of the pixel. */
  edges: usize;
  /**
   * A byte a pixel, 0 if there is one surface only: near the focus the layer, plus one, by which a surface that is whole
   * there covers all behind it; 0 elsewhere.
   */
  closedAt: usize;
  /** The pyramid of farthest surfaces. */
  levels: usize;
  levelCount: i32;
  /** Least, greatest and largest absolute radius in every tile of 16 x 16. */
  tileLeast: usize;
  tileMost: usize;
  tileSize: usize;
  /** A byte a tile: whether there is an edge in it. */
  tileEdges: usize;
  /** The greatest radius of all. */
  farthest: f32;
  /** Light from here on is bright: that of a lamp, or near it. */
  white: f32;
  /** Pieces: row and column (16 bits each), radius, light with coverage. */
  place: usize;
  pieceRadius: usize;
  colour: usize;
  /** Pieces added in each strip. */
  added: usize;
  /** Per strip and layer, the number of pieces; then where their numbers begin in `order`. */
  counts: usize;
  starts: usize;
  order: usize;
  layers: i32;
  focusLayer: i32;
  /** By sixteenths of a pixel of the absolute radius: the layer before and behind the focus, and the disc's step. */
  layerBefore: usize;
  layerBehind: usize;
  stepOf: usize;
  /** By column and by row: the cell of the field that chooses among discs. */
  cellX: usize;
  cellY: usize;
  cellsAcross: i32;
  steps: i32;
  /** A flag for each disc that is needed, and where each begins. Number: (cell * 2 + behind) * steps + step. */
  needed: usize;
  discs: usize;
  /** By layer: the grid that it is spread on, 0 for full size; without cells of the field, discs go on for each grid. */
  grids: usize;
  /** The coarsest of them, and each one's columns of room at both sides. */
  coarsest: i32;
  margins: usize;
  /** Columns of room at both sides of a row for what falls outside the picture. */
  margin: i32;
  /** 1: what is not covered whole is made whole; 0: left dark. */
  fill: i32;
}

@unmanaged
export class Level {
  width: i32;
  height: i32;
  radius: usize;
  colour: usize;
}

export const STRIP: i32 = 64;
/** Levels that one strip holds whole cells of. */
export const STRIP_LEVELS: i32 = 6;
/** Mark of a pixel that a surface does not take up whole. */
export const PARTIAL: u8 = 2;
export const NONE: f32 = -1e30;

export function plane(base: usize, i: i32): f32 {
  return load<f32>(base + ((<usize>i) << 2));
}

export function setPlane(base: usize, i: i32, value: f32): void {
  store<f32>(base + ((<usize>i) << 2), value);
}

/** Radii that differ by more than this belong to different surfaces. */
export function apart(a: f32, b: f32): f32 {
  return max<f32>(1, 0.15 * min(abs(a), abs(b)));
}

/** What a warp works on. The module's caller writes all fields. */
@unmanaged
export class Plan {
  width: i32;
  height: i32;
  /** Floats of a row of the planes with its border, and rows with theirs: BORDER before the first, more behind the last. */
  across: i32;
  down: i32;
  /** The source's planes with their border. */
  red: usize;
  green: usize;
  blue: usize;
  /** Most and least of all channels in tiles of TILE times TILE values of the guide, and tiles of a row. */
  most: usize;
  least: usize;
  /** Share of the sharp filter for what is read from each tile on. */
  sharpness: usize;
  tilesAcross: i32;
  tilesDown: i32;
  /** Weights of the filter by phase: PHASES + 1 times eight floats, of which six count. */
  filter: usize;
  axisX: f32;
  axisY: f32;
  /** What is done to offsets from the axis: a matrix, and a shift. */
  xx: f32;
  xy: f32;
  yx: f32;
  yy: f32;
  x0: f32;
  y0: f32;
  /** Steps of the tables to a square pixel of the squared distance, and the last step. */
  stepsPerSquare: f32;
  steps: i32;
  /** Ratios of all samples, `steps + 1` floats each, and their weights, four floats each. */
  ratios: usize;
  weights: usize;
  samples: i32;
  /** How far a pixel may be misplaced so that eight can be read at once. */
  tolerance: f32;
}

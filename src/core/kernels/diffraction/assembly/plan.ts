/**
 * Where the parts of one step lie in memory. The module's caller writes the fields that the step reads. A row is a distance
 * from the source, each STEP of the logarithm farther out than the one before; it has ANGLES values over half a turn.
 */
@unmanaged
export class Plan {
  /** Power spectra, far out and of the middle, where the image is fine; rows below `middleRows` are read from the latter. */
  far: usize;
  middle: usize;
  middleRows: i32;
  /** Of each row: its distance in samples of its spectrum, and samples along and across that a cell is the mean of. */
  distances: usize;
  along: usize;
  across: usize;
  /** By the samples across: cosines and sines of their directions, in pairs. */
  directions: usize;
  /** Rows of one wavelength, in and out. */
  density: usize;
  /** Cells to either side that a blur along the angle takes in. */
  blurReach: i32;
  /** Of each wavelength what it brings to red, green and blue, four floats; how many; and the rows that result, a plane a channel. */
  weights: usize;
  wavelengths: i32;
  red: usize;
  green: usize;
  blue: usize;
  /** The image to be laid on pixels: for each row and angle four floats, of which three are used. */
  image: usize;
  imageRows: i32;
  /** Logarithm of the first row's distance in pixels. */
  firstLog: f32;
  /** Distances across count by so much: less than 1 draws the image out sideways. */
  squeeze: f32;
  /** Pixels to the right of the source, its own included. */
  width: i32;
  /** Sums of the pixels that each task laid, four doubles a task. */
  sums: usize;
}

/** A power spectrum: half of its columns, and the transform that it is made from. */
@unmanaged
export class Spectrum {
  /** Rows of the transform, and floats from one row of the spectrum to the next. */
  length: i32;
  pitch: i32;
  power: usize;
  /** The transform, in blocks of columns: bytes of a block, and how many there are before that of the highest frequency. */
  grid: usize;
  blockBytes: i32;
  blocks: i32;
  /** By frequency: the row of the transform that holds it. */
  places: usize;
  /** By frequency: what undoes the mask's square pixels. */
  pixel: usize;
  scale: f32;
}

export const ANGLES: i32 = 1024;
export const STEP: f32 = 0.02;

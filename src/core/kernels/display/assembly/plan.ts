/** What a view works on and by. The module's caller writes all fields; of a table's, those that it has. */
@unmanaged
export class Plan {
  /** Planes of light, which are read only, and the pixels that they become: red, green, blue, opaque. */
  red: usize;
  green: usize;
  blue: usize;
  pixels: usize;
  /** The light is multiplied by it first. */
  gain: f32;
  /** The byte by which a display value of 0 to 1 is shown, in STEPS steps. */
  encoded: usize;
  /** The share that each channel lends to the others, and whether the filmic curve comes behind it. */
  crosstalk: f32;
  isFilmic: i32;
  /** The filmic curve's light of half response, to its power. */
  halfPower: f32;
  /** How much of the table's colour is taken, and the encoded display value for the rest, in STEPS steps. */
  strength: f32;
  plain: usize;
  /** Three columns of four floats that light goes through first; 0 is none. */
  matrix: usize;
  /** The table's encoding: light is at least `floor`, a line up to `lineEnd`, and a table (see grade) above it. */
  floor: f32;
  lineEnd: f32;
  lineSlope: f32;
  lineStart: f32;
  curve: usize;
  /** Four floats each: what the first entry stands for, and one over the span, by channel. */
  domain: usize;
  /** One curve a channel, interleaved; 0 is none. */
  shaper: usize;
  shaperSize: i32;
  /** A grid, red running fastest, with a float behind it; 0 is none. Its ends in the shaper's values, and one over their span. */
  cube: usize;
  cubeSize: i32;
  cubeStart: f32;
  cubeScale: f32;
}

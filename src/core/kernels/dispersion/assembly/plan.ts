/** What a dispersion works on. The module's caller writes all fields. */
@unmanaged
export class Plan {
  width: i32;
  height: i32;
  /** Pixels of four floats, 0 where there is no glass: red, green and blue seen through the glass, and where the glass is. */
  light: usize;
  /** How far normals lean, right and down. */
  right: usize;
  down: usize;
  /** Steps of the tables to a lean of 1. */
  stepsPerLean: f32;
  /** Of each sample `STEPS + 1` shifts in pixels, and what it brings to red, green and blue, four floats. */
  shifts: usize;
  weights: usize;
  /** Of each level the lean up to which it is for, its first sample and how many it has: 12 bytes. */
  levelTable: usize;
  levels: i32;
  /** What is added and taken. */
  red: usize;
  green: usize;
  blue: usize;
}

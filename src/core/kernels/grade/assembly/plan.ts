/** What grading works on. The module's caller writes all fields. */
@unmanaged
export class Plan {
  width: i32;
  height: i32;
  /** Planes that are changed where they lie. */
  red: usize;
  green: usize;
  blue: usize;
  /** Steps in order (class Step), and how many. */
  steps: usize;
  stepCount: i32;
  /** Sharpening: logarithms of the light, the same blurred along rows, a float a pixel each. */
  levels: usize;
  blurred: usize;
  /** Weights of the blur from `-reach` to `reach`. */
  weights: usize;
  reach: i32;
  /** Stops: how much, from where on, and at most. */
  sharpenAmount: f32;
  sharpenThreshold: f32;
  sharpenLimit: f32;
  sharpenMask: usize;
}

/** One step of the grade. */
@unmanaged
export class Step {
  /** MATRIX, TONE, COLOUR or GRAIN. */
  kind: i32;
  /** A plane from 0 to 1 that the step is held to; 0 is none. */
  mask: usize;
  /**
   * MATRIX: twelve floats, rows of three and an offset. TONE: one table a channel, one after the other. COLOUR: HUES + 1 times
   * four floats: turn as cosine and sine, saturation, gain in stops. GRAIN: one table of strengths.
   */
  table: usize;
  /** COLOUR: saturation. GRAIN: amount. */
  amount: f32;
  /** GRAIN: planes of noise, and whether the strength goes by luminance. */
  noiseRed: usize;
  noiseGreen: usize;
  noiseBlue: usize;
  mono: i32;
}

export const MATRIX: i32 = 0;
export const TONE: i32 = 1;
export const COLOUR: i32 = 2;
export const GRAIN: i32 = 3;

export const HUES: i32 = 360;

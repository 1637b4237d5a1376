import type { Rgb } from '../../image/rgb';
import type { RunOptions } from '../runtime/parallel';

/** Hues that a table tells apart, a degree each. */
export const HUES = 360;

/** One step of a grade; a mask from 0 to 1 holds it to a part of the picture. */
export type GradeStep = { mask?: Float32Array | undefined } & (
  | {
      kind: 'matrix';
      /** Twelve numbers: three rows of three and an offset. */
      matrix: Float32Array;
    }
  | {
      kind: 'tone';
      /** What light becomes in each channel, made by `logTable`. */
      tables: readonly [Float32Array, Float32Array, Float32Array];
    }
  | {
      kind: 'colour';
      saturation: number;
      /** `HUES + 1` times a turn as cosine and sine, a saturation, and a brightness in stops; by opponent hue from red on. */
      hues?: Float32Array | undefined;
    }
  | {
      kind: 'grain';
      /** Standard deviation at full strength, as a share of the light. */
      amount: number;
      /** Strength by light, made by `logTable`. */
      strength: Float32Array;
      /** Noise of variance 1: of each channel, or one plane for all. */
      noise: readonly Float32Array[];
    }
);

/** An unsharp mask on the logarithm of luminance. Stops. */
export interface Sharpening {
  amount: number;
  /** What stands out by less stays as it is. */
  threshold: number;
  /** No pixel is changed by more. */
  limit: number;
  /** Of the blur, an odd number, together 1. */
  weights: Float32Array;
  mask?: Float32Array | undefined;
}

export interface GradeInput {
  width: number;
  height: number;
  light: Rgb;
  steps: readonly GradeStep[];
  sharpening?: Sharpening | undefined;
}

/** Noise that has the same value at the same place of the whole picture, whichever part of it is asked for. */
export interface NoiseInput {
  width: number;
  height: number;
  /** Where its first pixel lies in the whole picture. */
  left: number;
  top: number;
  /** A whole number for each plane. */
  seeds: readonly number[];
  /** Of the filter along each side, an odd number; their squares sum to 1. */
  weights: Float32Array;
}

/** Grading of scene light pixel by pixel. The result does not depend on the number of threads. */
export interface GradeKernel {
  grade(input: GradeInput, options?: RunOptions): Promise<Rgb>;
  /** Planes of noise, mean 0 and variance 1. */
  noise(input: NoiseInput, options?: RunOptions): Promise<Float32Array[]>;
}

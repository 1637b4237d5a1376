import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { solve, Matrix } from 'ml-matrix';
import type { Glow } from './models';

/** Light at places about a source, each with its deviation. */
export interface Samples {
  radius: Float64Array;
  angle: Float64Array;
  light: Float64Array;
  deviation: Float64Array;
}

/** What is measured at one place. */
type Sample = Record<keyof Samples, number>;

export function samplesOf(rows: readonly Sample[]): Samples {
  const column = (name: keyof Samples): Float64Array => Float64Array.from(rows, (row) => row[name]);
  return {
    radius: column('radius'),
    angle: column('angle'),
    light: column('light'),
    deviation: column('deviation'),
  };
}

/** A sum of glows whose shapes go by parameters, and whose amounts are never below zero; the last of these is even light behind all. */
export interface FitModel {
  /** Where the search begins, and what it keeps to. */
  initial: readonly number[];
  least: readonly number[];
  most: readonly number[];
  glows: (parameters: readonly number[]) => readonly Glow[];
}

export interface Fitted {
  parameters: number[];
  /** The light of each glow, and the even light per square pixel last. */
  amounts: number[];
  /** Mean of the squared residuals in deviations. */
  misfit: number;
}

/** Steps that are taken before it is looked whether they still help, how often, and what counts as help. */
const STEPS = 4;
const ROUNDS = 15;
const GAIN = 1e-4;

/** The amounts that fit best for glows of given shapes: least squares, with those that would be negative left out. (Lawson & Hanson 1974, without return) */
function fitAmounts(columns: readonly Float64Array[], { light, deviation }: Samples): number[] {
  const sizes = columns.map((column) => Math.sqrt(dot(column, column, deviation)) || 1);
  let active = columns.map((_, k) => k);
  for (;;) {
    const normal = active.map((a) =>
      active.map((b) => dot(columns[a]!, columns[b]!, deviation) / sizes[a]! / sizes[b]!),
    );
    const right = active.map((a) => [dot(columns[a]!, light, deviation) / sizes[a]!]);
    // Columns that are all but the same would make it singular.
    normal.forEach((row, k) => (row[k]! *= 1 + 1e-10));
    const found = solve(new Matrix(normal), new Matrix(right), true).to1DArray();
    const wrong = active.filter((_, k) => !(found[k]! >= 0));
    if (wrong.length === 0 || wrong.length === active.length) {
      const amounts = columns.map(() => 0);
      if (wrong.length === 0) active.forEach((a, k) => (amounts[a] = found[k]! / sizes[a]!));
      return amounts;
    }
    active = active.filter((a) => !wrong.includes(a));
  }
}

function dot(a: Float64Array, b: Float64Array, deviation: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i]! * b[i]!) / deviation[i]! ** 2;
  return sum;
}

/** A model with its shapes as they are, and the amounts that fit best. */
export function fitShapes(
  samples: Samples,
  model: FitModel,
  parameters: readonly number[],
): Fitted & { light: Float64Array } {
  const { radius, angle, light, deviation } = samples;
  const columns = [
    ...model.glows(parameters).map((glow) => radius.map((r, i) => glow.light(r, angle[i]!))),
    new Float64Array(radius.length).fill(1),
  ];
  const amounts = fitAmounts(columns, samples);
  const sum = radius.map((_, i) => columns.reduce((all, column, k) => all + amounts[k]! * column[i]!, 0));
  const squares = light.reduce((all, value, i) => all + ((value - sum[i]!) / deviation[i]!) ** 2, 0);
  return { parameters: [...parameters], amounts, misfit: squares / Math.max(1, light.length), light: sum };
}

/** Fits shapes and amounts: amounts are solved for within each step of a damped least-squares search (Marquardt 1963; Golub & Pereyra 1973 for the parting). */
export function fitGlows(samples: Samples, model: FitModel, rounds = ROUNDS): Fitted {
  const { light, deviation } = samples;
  const data = { x: Array.from(light, (_, i) => i), y: light.map((value, i) => value / deviation[i]!) };
  const scaledModel = (parameters: number[]) => {
    const { light: values } = fitShapes(samples, model, parameters);
    return (i: number) => values[i]! / deviation[i]!;
  };
  let parameters = [...model.initial];
  let before = Infinity;
  for (let round = 0; round < rounds; round++) {
    const step = levenbergMarquardt(data, scaledModel, {
      initialValues: parameters,
      minValues: [...model.least],
      maxValues: [...model.most],
      gradientDifference: 1e-3,
      damping: 1e-2,
      maxIterations: STEPS,
      errorTolerance: 1e-8,
    });
    parameters = [...step.parameterValues];
    if (step.parameterError > (1 - GAIN) * before) break;
    before = step.parameterError;
  }
  return fitShapes(samples, model, parameters);
}

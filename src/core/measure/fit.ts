import { solve, Matrix } from 'ml-matrix';
import { clamp } from '../image/clamp';
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

/** A fit, and how well it fits. */
export interface Fitted {
  parameters: number[];
  /** The light of each glow, and the even light per square pixel last. */
  amounts: number[];
  /** Mean of the squared residuals in deviations. */
  misfit: number;
  /** Of each sample, as it is fitted. */
  light: Float64Array;
}

/** Steps at most, and the share of the misfit that one must take away for another to follow. */
const STEPS = 60;
const GAIN = 1e-6;
/** By how much a parameter is moved to see what it does. */
const DIFFERENCE = 1e-4;
const [FIRST_DAMPING, MOST_DAMPING] = [1e-2, 1e8];
const [DAMPING_DOWN, DAMPING_UP] = [6, 4];

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
export function fitShapes(samples: Samples, model: FitModel, parameters: readonly number[]): Fitted {
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

/** Residuals in deviations. */
const residualsOf = ({ light, deviation }: Samples, fitted: Float64Array): Float64Array =>
  light.map((value, i) => (value - fitted[i]!) / deviation[i]!);

/**
 * Fits shapes and amounts: a damped least-squares search over the shapes (Marquardt 1963), within which the amounts are solved for
 * (Golub & Pereyra 1973). A step that does not help is taken back; what lies at an end of its range and would leave it rests there.
 */
export function fitGlows(samples: Samples, model: FitModel, steps = STEPS): Fitted {
  let best = fitShapes(samples, model, model.initial);
  let damping = FIRST_DAMPING;
  for (let step = 0; step < steps; step++) {
    const { normal, gradient, free } = normalEquations(samples, model, best);
    if (free.length === 0) break;
    const before = best.misfit;
    while (best.misfit === before && damping < MOST_DAMPING) {
      const system = normal.clone();
      for (let k = 0; k < free.length; k++) system.set(k, k, normal.get(k, k) * (1 + damping) + 1e-12);
      const change = solve(system, gradient, true);
      const next = best.parameters.map((value, parameter) => {
        const k = free.indexOf(parameter);
        const moved = k < 0 ? value : value + change.get(k, 0);
        return clamp(moved, model.least[parameter]!, model.most[parameter]!);
      });
      const tried = fitShapes(samples, model, next);
      if (tried.misfit < best.misfit) [best, damping] = [tried, damping / DAMPING_DOWN];
      else damping *= DAMPING_UP;
    }
    if (best.misfit > (1 - GAIN) * before) break;
  }
  return best;
}

/** The linear system of a step: of the parameters that may move. */
function normalEquations(
  samples: Samples,
  model: FitModel,
  { parameters, light }: Fitted,
): { normal: Matrix; gradient: Matrix; free: number[] } {
  const residuals = residualsOf(samples, light);
  const columns = parameters.map((value, k) => {
    // Away from the end of the range that it may lie at.
    const h = value + DIFFERENCE > model.most[k]! ? -DIFFERENCE : DIFFERENCE;
    const moved = parameters.map((other, at) => (at === k ? value + h : other));
    const changed = residualsOf(samples, fitShapes(samples, model, moved).light);
    return changed.map((residual, i) => (residuals[i]! - residual) / h);
  });
  const slope = (k: number): number => columns[k]!.reduce((sum, value, i) => sum + value * residuals[i]!, 0);
  const free = parameters
    .map((_, k) => k)
    .filter((k) => {
      const [atLeast, atMost] = [parameters[k]! <= model.least[k]!, parameters[k]! >= model.most[k]!];
      return !(atLeast && slope(k) < 0) && !(atMost && slope(k) > 0);
    });
  const product = (a: number, b: number): number =>
    columns[a]!.reduce((sum, value, i) => sum + value * columns[b]![i]!, 0);
  return {
    free,
    normal: new Matrix(free.map((a) => free.map((b) => product(a, b)))),
    gradient: new Matrix(free.map((k) => [slope(k)])),
  };
}

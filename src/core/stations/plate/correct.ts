import { contrastMap, levelsAreNeutral, logTable, type Levels } from '../../color/tone';
import { mapRgb, type Rgb } from '../../image/rgb';
import type { GradeKernel, GradeStep } from '../../kernels/grade';
import { curveTables, hueTable, sameForAll } from '../../light/grading';
import type { ElementSettings } from '../../settings/element';

/** One correction of an element: its own, or one of those that follow. */
export type Correction = ElementSettings['corrections'][number];

/** An element's corrections, in the order in which they are applied. */
export const correctionsOf = (settings: ElementSettings): readonly Correction[] => [
  settings,
  ...settings.corrections,
];

const diagonal = (gain: number, offset: number): Float32Array =>
  Float32Array.of(gain, 0, 0, offset, 0, gain, 0, offset, 0, 0, gain, offset);

function levelSteps(levels: Levels): GradeStep[] {
  if (levelsAreNeutral(levels)) return [];
  const { inLow, inHigh, gamma, outLow, outHigh } = levels;
  const range = Math.abs(inHigh - inLow) < 1e-6 ? 1e-6 : inHigh - inLow;
  const span = outHigh - outLow;
  if (gamma === 1) {
    const gain = span / range;
    return [{ kind: 'matrix', matrix: diagonal(gain, outLow - inLow * gain) }];
  }
  return [
    { kind: 'matrix', matrix: diagonal(1 / range, -inLow / range) },
    { kind: 'tone', tables: sameForAll(logTable((light) => light ** (1 / gamma))) },
    { kind: 'matrix', matrix: diagonal(span, outLow) },
  ];
}

/** Exposure and offset, contrast, curves, levels, hues and saturation, in this order; none if nothing is changed. */
export function correctionSteps(correction: Correction): GradeStep[] {
  const { exposure, offset, contrast, pivot, saturation } = correction;
  const steps: GradeStep[] = [];
  if (exposure !== 0 || offset !== 0) steps.push({ kind: 'matrix', matrix: diagonal(2 ** exposure, offset) });
  if (contrast !== 1)
    steps.push({ kind: 'tone', tables: sameForAll(logTable(contrastMap(contrast, pivot))) });
  const tables = curveTables(correction);
  if (tables) steps.push({ kind: 'tone', tables });
  steps.push(...levelSteps(correction.levels));
  const hues = hueTable(correction);
  if (hues || saturation !== 1) steps.push({ kind: 'colour', saturation, hues });
  return steps;
}

/** Whether an element's light is changed at all. */
export const isCorrected = (settings: ElementSettings): boolean =>
  correctionsOf(settings).some((correction) => correctionSteps(correction).length > 0);

/** Alpha below this is none: what shines there is corrected as it is. */
const LEAST_ALPHA = 1e-4;

/** A change of colours to light that is multiplied by its alpha. Where nothing is, nothing comes to be. */
export async function onColours(
  rgb: Rgb,
  alpha: Float32Array | undefined,
  change: (rgb: Rgb) => Rgb | Promise<Rgb>,
): Promise<Rgb> {
  if (!alpha) return change(rgb);
  const colours = mapRgb(rgb, (plane) =>
    plane.map((value, i) => (alpha[i]! > LEAST_ALPHA ? value / alpha[i]! : value)),
  );
  const changed = await change(colours);
  return mapRgb(changed, (plane, c) =>
    plane.map((value, i) => {
      if (alpha[i]! > LEAST_ALPHA) return value * alpha[i]!;
      return rgb[c][i] === 0 ? 0 : value;
    }),
  );
}

/** Light under one correction, held to a mask. */
export async function correct(
  rgb: Rgb,
  size: { width: number; height: number },
  correction: Correction,
  mask: Float32Array | undefined,
  kernel: GradeKernel,
): Promise<Rgb> {
  const steps = correctionSteps(correction);
  if (steps.length === 0) return rgb;
  const graded = await kernel.grade({ ...size, light: rgb, steps });
  if (!mask) return graded;
  return mapRgb(graded, (plane, c) => {
    const from = rgb[c];
    return plane.map((value, i) => from[i]! + mask[i]! * (value - from[i]!));
  });
}

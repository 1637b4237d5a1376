import { z } from 'zod';

/** Points of a curve in rising x. Between them it is monotone where they are; outside it goes on with a slope of 1. */
export type Curve = readonly (readonly [x: number, y: number])[];

/** Curves are drawn in stops from middle grey, this far to either side. */
export const CURVE_RANGE = 16;
export const MAX_CURVE_POINTS = 32;

const stop = z.number().min(-CURVE_RANGE).max(CURVE_RANGE);

export const curveSchema: z.ZodType<Curve, Curve> = z
  .array(z.tuple([stop, stop]))
  .max(MAX_CURVE_POINTS)
  .refine((points) => points.every((point, i) => i === 0 || point[0] > points[i - 1]![0]), {
    message: 'the points must go from left to right',
  });

/** Reads `-4:-4, 0:0.5, 4:4`; undefined if that is not what it is. */
export function parseCurve(text: string): Curve | undefined {
  if (text.trim() === '' || text.trim() === 'none') return [];
  const points = text.split(',').map((part) => part.split(':').map(Number));
  if (points.some((point) => point.length !== 2 || !point.every(Number.isFinite))) return undefined;
  return points as unknown as Curve;
}

export function writeCurve(curve: Curve): string {
  return curve.length ? curve.map(([x, y]) => `${x}:${y}`).join(', ') : 'none';
}

import { curveMap, logTable } from '../color/tone';
import { monotoneTangents } from '../color/monotone';
import { HUES, type GradeStep } from '../kernels/grade';
import type { Look } from '../look/look';
import type { Curve } from '../settings/curve';

/** The curves of a grade, wherever in a look they stand. */
type Grading = Pick<Look['film'], 'curve' | 'curves' | 'hues'>;
export type ToneTables = Extract<GradeStep, { kind: 'tone' }>['tables'];

/** Names of the hues that a curve over hue is set at, a sixth of a turn apart, from red on. */
export const HUE_NAMES = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta'] as const;

export const sameForAll = (table: Float32Array): ToneTables => [table, table, table];

/** The curve of all channels, then each channel's own. */
export function curveTables({ curve, curves }: Grading): ToneTables | undefined {
  const own = [curves.red, curves.green, curves.blue];
  if (curve.length === 0 && own.every(({ length }) => length === 0)) return undefined;
  const all = curveMap(curve);
  const table = (one: Curve): Float32Array => {
    const map = curveMap(one);
    return logTable((light) => map(all(light)));
  };
  if (own.every(({ length }) => length === 0)) return sameForAll(table([]));
  return [table(own[0]!), table(own[1]!), table(own[2]!)];
}

/** The curve over hue as the kernel reads it; undefined if it changes nothing. */
export function hueTable({ hues }: Grading): Float32Array | undefined {
  const points = HUE_NAMES.map((name) => hues[name]);
  if (points.every(({ shift, saturation, exposure }) => shift === 0 && saturation === 1 && exposure === 0))
    return undefined;
  const curves = [
    periodic(points.map(({ shift }) => (shift * Math.PI) / 180)),
    periodic(points.map(({ saturation }) => saturation)),
    periodic(points.map(({ exposure }) => exposure)),
  ] as const;
  const table = new Float32Array(4 * (HUES + 1));
  for (let k = 0; k <= HUES; k++) {
    const turn = curves[0](k / HUES);
    table.set([Math.cos(turn), Math.sin(turn), Math.max(0, curves[1](k / HUES)), curves[2](k / HUES)], 4 * k);
  }
  return table;
}

/** A smooth curve over one turn through evenly spaced values, monotone wherever they are (Fritsch & Carlson 1980). */
function periodic(values: readonly number[]): (turn: number) => number {
  const count = values.length;
  const at = (k: number): number => values[((k % count) + count) % count]!;
  // Two more points on either side, so that the turn closes smoothly.
  const points = Array.from({ length: count + 5 }, (_, k): [number, number] => [k - 2, at(k - 2)]);
  const tangents = monotoneTangents(points);
  return (turn) => {
    const x = turn * count;
    const below = Math.min(count - 1, Math.floor(x));
    const [t, u] = [x - below, 1 - (x - below)];
    const [m0, m1] = [tangents[below + 2]!, tangents[below + 3]!];
    return u * u * (1 + 2 * t) * at(below) + t * t * (1 + 2 * u) * at(below + 1) + t * u * (u * m0 - t * m1);
  };
}

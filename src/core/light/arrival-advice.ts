import { luminance } from '../color/primaries';
import { lightChannels } from '../image/passes';
import { channelFloats, type Channel } from '../image/picture';
import type { Plate } from './plate';

/** White of display values; light that ends within so much of it was cut there. */
const [WHITE, NEAR_WHITE] = [1, 0.004];
/** A share of pixels at white that is no chance. */
const SPIKE = 0.0005;
/** Neighbours whose distances differ by this factor are of two surfaces. */
const JUMP = 1.25;
/** Pixels on either side of an edge that are looked at, and stops that the light must differ by. */
const [SIDE, CONTRAST] = [4, 0.7];
/** Share of an edge's light that a sharp picture changes within a pixel on either side (anti-aliased edges all of it). */
const SHARP = 0.6;
/** Edges that make a verdict. */
const EDGES = 200;
/** About so many rows are looked at, no two neighbours. */
const ROWS = 270;
const LEAST_LIGHT = 1e-4;

/** What a person should hear of a render as it arrives: what was lost before, and what to do about it. */
export function arrivalAdvice(plate: Plate): string[] {
  const { width, height } = plate.picture;
  const light = lightChannels(plate.beauty).rgb;
  const depth = plate.depth?.channels[0]?.channel;
  const step = Math.max(2, Math.ceil(height / ROWS));
  let [most, atWhite, seen] = [0, 0, 0];
  const shares: number[] = [];
  for (let y = 0; y < height; y += step) {
    // As it is stored: that is where it was cut.
    const [r, g, b] = light.map((channel) => rowOf(channel, y, width)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let x = 0; x < width; x++) {
      const value = Math.max(r[x]!, g[x]!, b[x]!);
      if (value > most) most = value;
      if (Math.abs(value - WHITE) <= NEAR_WHITE) atWhite++;
    }
    seen += width;
    if (depth) findShares(rowOf(depth, y, width), (x) => luminance(r[x]!, g[x]!, b[x]!), shares);
  }
  const advice: string[] = [];
  const cut = atWhite / seen;
  if (most <= WHITE + NEAR_WHITE && cut > SPIKE)
    advice.push(
      `light is cut off at 1 (${(100 * cut).toPrecision(2)} % of the pixels stand there): render it unclamped, or lift the highlights`,
    );
  if (shares.length >= EDGES && shares.sort((a, b) => a - b)[shares.length >> 1]! < SHARP)
    advice.push(
      'edges are soft where the depth is hard: the render seems to have depth of field or motion blur in it already, and Focus would blur it twice',
    );
  return advice;
}

function rowOf({ samples }: Pick<Channel, 'samples'>, y: number, width: number): Float32Array {
  return channelFloats({ samples: samples.subarray(y * width, (y + 1) * width) });
}

/** Of each edge of the depth in a row, adds which share of the light's change about it lies at the edge itself. */
function findShares(z: Float32Array, light: (x: number) => number, shares: number[]): void {
  const stops = (x: number): number => Math.log2(Math.max(LEAST_LIGHT, light(x)));
  for (let x = SIDE; x < z.length - SIDE - 1; x++) {
    if (!isJump(z[x]!, z[x + 1]!) || !isAlone(z, x)) continue;
    const whole = stops(x + 1 + SIDE) - stops(x - SIDE);
    if (Math.abs(whole) < CONTRAST) continue;
    // From one pixel before the edge's two to one behind them.
    shares.push(Math.min(1, Math.max(0, (stops(x + 2) - stops(x - 1)) / whole)));
  }
}

const isJump = (a: number, b: number): boolean => a > 0 && b > 0 && (a > JUMP * b || b > JUMP * a);

/** Whether no other edge is near the one between a pixel and the next. */
function isAlone(z: Float32Array, i: number): boolean {
  for (let k = -SIDE; k <= SIDE; k++) if (k !== 0 && isJump(z[i + k]!, z[i + k + 1]!)) return false;
  return true;
}

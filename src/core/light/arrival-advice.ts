import { luminance } from '../color/primaries';
import { channelFloats } from '../image/picture';
import { passLight, type Plate } from './plate';

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
const ROW_STEP = 2;
const LEAST_LIGHT = 1e-4;

/** What a person should hear of a render as it arrives: what was lost before, and what to do about it. */
export function arrivalAdvice(plate: Plate): string[] {
  const { rgb } = passLight(plate, plate.beauty, 1);
  const [r, g, b] = rgb;
  const advice: string[] = [];
  let [most, atWhite] = [0, 0];
  for (let i = 0; i < r.length; i++) {
    const value = Math.max(r[i]!, g[i]!, b[i]!);
    if (value > most) most = value;
    if (Math.abs(value - WHITE) <= NEAR_WHITE) atWhite++;
  }
  const share = atWhite / r.length;
  if (most <= WHITE + NEAR_WHITE && share > SPIKE)
    advice.push(
      `light is cut off at 1 (${(100 * share).toPrecision(2)} % of the pixels stand there): render it unclamped, or lift the highlights`,
    );
  if (isBlurredAlready(plate, (i) => Math.log2(Math.max(LEAST_LIGHT, luminance(r[i]!, g[i]!, b[i]!)))))
    advice.push(
      'edges are soft where the depth is hard: the render seems to have depth of field or motion blur in it already, and Focus would blur it twice',
    );
  return advice;
}

/** Whether light changes slowly across the edges that the depth has. */
function isBlurredAlready(plate: Plate, stops: (pixel: number) => number): boolean {
  const depth = plate.depth?.channels[0]?.channel;
  if (!depth) return false;
  const z = channelFloats(depth);
  const { width, height } = plate.picture;
  const shares: number[] = [];
  for (let y = 0; y < height; y += ROW_STEP)
    for (let x = SIDE; x < width - SIDE - 1; x++) {
      const i = y * width + x;
      if (!isJump(z[i]!, z[i + 1]!) || !isAlone(z, i)) continue;
      const whole = stops(i + 1 + SIDE) - stops(i - SIDE);
      if (Math.abs(whole) < CONTRAST) continue;
      // From one pixel before the edge's two to one behind them.
      shares.push(Math.min(1, Math.max(0, (stops(i + 2) - stops(i - 1)) / whole)));
    }
  if (shares.length < EDGES) return false;
  return shares.sort((a, b) => a - b)[shares.length >> 1]! < SHARP;
}

const isJump = (a: number, b: number): boolean => a > 0 && b > 0 && (a > JUMP * b || b > JUMP * a);

/** Whether no other edge is near the one between a pixel and the next. */
function isAlone(z: Float32Array, i: number): boolean {
  for (let k = -SIDE; k <= SIDE; k++) if (k !== 0 && isJump(z[i + k]!, z[i + k + 1]!)) return false;
  return true;
}
